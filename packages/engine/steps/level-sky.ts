import { expectBackground, expectKind } from '../measurements/index';
import { perPlaneValues } from '@owl-loom/recipe/schema-primitives';
import { implementStep } from './step-implementation';
import { linearKernel } from '../linear-kernel';
import { levelSky as spec } from '@owl-loom/recipe/steps/level-sky';

/**
 * Shifts each plane so that its sky lies at one level: `level` where given, else the mean of the planes' skies.
 * `hold: { sky }` pins the skies, one number or one a plane.
 */
export const levelSkyStep = implementStep(spec, {
  version: 2,
  build: (p, { input, sky, hold }) => {
    const held = hold?.sky;
    const pinned = typeof held === 'number' || Array.isArray(held) ? perPlaneValues(held, input.planes) : undefined;
    const figuresOf = (skies: number[]) => {
      const level = p.level ?? skies.reduce((sum, s) => sum + s, 0) / skies.length;
      return { sky: skies, level };
    };
    const region = p.region ?? sky;
    // Where no place is given, all planes are told from the same pixels.
    const joint = !pinned && input.planes === 3 && region === undefined;
    const skiesFrom = ([figure]: Parameters<typeof expectBackground>[0][]): number[] =>
      pinned ?? (joint ? [...expectKind('sky-levels', figure).skies] : expectBackground(figure).map((t) => t.sky));
    return {
      kernel: linearKernel(
        (figures) => {
          const { sky: skies, level } = figuresOf(skiesFrom([...figures]));
          return { a: skies.map((s) => level - s), b: [1] };
        },
        (figures) => figuresOf(skiesFrom([...figures])),
      ),
      figures: pinned
        ? []
        : [joint ? { kind: 'sky-levels', nodes: [input.node] } : { kind: 'tone', nodes: [input.node], region }],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
