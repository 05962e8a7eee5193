import { z } from 'zod';
import { UserError } from '#base/errors';
import { defineStep } from './step-kind';
import { smoothstep } from '#image/math/smoothstep';

/** How much a value counts for lying between two others. */
export function rangeMembership(v: number, low: number, high: number, feather: number): number {
  const outside = v < low ? low - v : v > high ? v - high : 0;
  return outside === 0 ? 1 : feather > 0 ? smoothstep(1 - outside / feather) : 0;
}

/** 1 from low to high, falling by a smoothstep to 0 over `feather` outside. */
export const range = defineStep({
  do: 'range',
  name: 'range',
  summary: 'Keeps what lies between two values, as white on black.',
  hints: {
    for: 'White is what should change, with soft rims.',
    tooMuch: 'Hard rims show as outlines: more feather.',
  },
  group: 'mask',
  searchTerms: ['threshold', 'range mask', 'luminance range', 'select'],
  version: 1,
  params: z.strictObject({ low: z.number(), high: z.number(), feather: z.number().nonnegative().default(0) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'stretched' },
  initialParams: () => ({ low: 0.3, high: 1, feather: 0.1 }),
  build: ({ low, high, feather }, { input, path }) => {
    if (low > high)
      throw new UserError(
        'empty-range',
        'low lies above high, so nothing is between them; exchange the two.',
        `${path}.low`,
      );
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
