import { UserError } from '@owl-loom/base/errors';
import { perPlaneValues } from '@owl-loom/recipe/schema-primitives';
import { stretchPlane } from '@owl-loom/algorithms/tone/curves';
import { implementStep } from './step-implementation';
import { levels as spec } from '@owl-loom/recipe/steps/levels';

/** Clamps between black and white, then bends by the midtone curve that takes `mid` to 0.5. */
export const levelsStep = implementStep(spec, {
  version: 1,
  build: (p, { input, path }) => {
    const n = input.planes;
    for (const name of ['black', 'mid', 'white'] as const) {
      if (n === 1 && Array.isArray(p[name])) {
        throw new UserError('one-number', `A mono image takes one value for ${name}, not three.`, `${path}.${name}`);
      }
    }
    const black = perPlaneValues(p.black, n);
    const mid = perPlaneValues(p.mid, n);
    const white = perPlaneValues(p.white, n);
    for (let i = 0; i < n; i++) {
      if (white[i] <= black[i]) throw new UserError('white-below-black', 'White must be above black.', `${path}.white`);
      if (!(mid[i] > 0 && mid[i] < 1))
        throw new UserError('mid-range', 'Midtones must be between 0 and 1.', `${path}.mid`);
    }
    return {
      kernel: {
        prepare:
          () =>
          ([from], out) => {
            for (let q = 0; q < n; q++)
              stretchPlane('midtone', mid[q], black[q], white[q], from.planes[q], out.planes[q]);
          },
      },
      figures: [],
      planes: n,
      extent: input.extent,
    };
  },
});
