import type { z } from 'zod';
import { FULL_CHROMA } from '@owl-loom/algorithms/colour/hue-membership';
import { colourOpsKernel } from '../colour-fusion';
import { implementStep } from './step-implementation';
import { actsOn } from './above';
import { type hueBand, hueBands as spec } from '@owl-loom/recipe/steps/hue-bands';

export type HueBand = z.output<typeof hueBand>;

/** Turns, dulls, enriches, lifts or pushes families of hues, one band after the other; greys stay. */
export const hueBandsStep = implementStep(spec, {
  version: 1,
  build: ({ bands, above: from }, place) => {
    const acts = actsOn(from, FULL_CHROMA, place);
    const on = bands.filter(({ off }) => !off);
    return {
      kernel: colourOpsKernel((figures) => on.map((band) => ({ band, on: acts.range(figures) })), acts.describe),
      figures: acts.figures,
      planes: 3,
      extent: place.input.extent,
    };
  },
});
