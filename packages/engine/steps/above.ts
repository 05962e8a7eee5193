import type { ChromaRange } from '@owl-loom/algorithms/colour/hue-ops';
import { FULL_CHROMA, GREY } from '@owl-loom/algorithms/colour/hue-membership';
import { type Measurement, type MeasurementSpec, expectKind } from '../measurements/index';
import type { Above } from '@owl-loom/recipe/steps/above';
import type { StepContext } from './step-implementation';

/** Full and none, in units of the chroma noise. */
const FULL = 5;
const NONE = 2;

/** The chroma on which a step acts. */
export interface ActsOn {
  readonly figures: MeasurementSpec[];
  /** @returns undefined where it acts on all */
  range(figures: readonly Measurement[]): ChromaRange | undefined;
  /** What the report says of it; nothing where it was given. */
  describe?(figures: readonly Measurement[]): { above: number; chromaNoise: number };
}

/** The range of a step that acts fully from a chroma on. */
export const rangeFrom = (full: number): ChromaRange => ({ grey: GREY * full, full });

/** The range above the chroma noise of the sky. */
export function rangeAbove(noise: number): ChromaRange {
  const { grey, full } = rangeFrom(Math.max(FULL_CHROMA, FULL * noise));
  return { grey: Math.max(grey, NONE * noise), full };
}

/** @param value as the recipe has it; where it says nothing, `usual` */
export function actsOn(
  value: Above | undefined,
  usual: number,
  { input, sky }: Pick<StepContext, 'input' | 'sky'>,
): ActsOn {
  if (value !== 'auto') {
    const full = value ?? usual;
    return { figures: [], range: () => (full > 0 ? rangeFrom(full) : undefined) };
  }
  const noiseOf = ([figure]: readonly Measurement[]): number => expectKind('chroma-noise', figure).noise;
  const range = (figures: readonly Measurement[]): ChromaRange => rangeAbove(noiseOf(figures));
  return {
    figures: [{ kind: 'chroma-noise', nodes: [input.node], ...(sky && { region: sky }) }],
    range,
    describe: (figures) => ({ above: range(figures).full, chromaNoise: noiseOf(figures) }),
  };
}
