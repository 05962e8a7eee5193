import { UserError } from '@owl-loom/base/errors';
import { implementStep } from './step-implementation';
import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { range as spec } from '@owl-loom/recipe/steps/range';

/** How much a value counts for lying between two others. */
export function rangeMembership(v: number, low: number, high: number, feather: number): number {
  const outside = v < low ? low - v : v > high ? v - high : 0;
  return outside === 0 ? 1 : feather > 0 ? smoothstep(1 - outside / feather) : 0;
}

/** 1 from low to high, falling by a smoothstep to 0 over `feather` outside. */
export const rangeStep = implementStep(spec, {
  version: 1,
  build: ({ low, high, feather }, { input, path }) => {
    if (low > high)
      throw new UserError('empty-range', 'Low is above high: nothing is selected. Swap the two.', `${path}.low`);
    return {
      kernel: {
        prepare:
          () =>
          ([{ planes }], out) =>
            out.planes.forEach((to, p) => {
              const from = planes[p];
              for (let i = 0; i < to.length; i++) {
                const v = from[i];
                to[i] = v === v ? rangeMembership(v, low, high, feather) : v;
              }
            }),
      },
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
