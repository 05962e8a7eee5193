import { z } from 'zod';
import { defineStep } from './step-kind';

/** Nothing darker than `level`. */
export const floor = defineStep({
  do: 'floor',
  name: 'floor',
  summary: 'Lets nothing be darker than this.',
  hints: {
    for: 'The darkest sky is a little brighter than black, and dust stays apart from it.',
    tooMuch: 'Dust and sky melt into one flat tone.',
  },
  group: 'show',
  searchTerms: ['black clip', 'raise blacks', 'pedestal'],
  version: 1,
  params: z.strictObject({ level: z.number() }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ level: 0.05 }),
  build: ({ level }, { input }) => ({
    kernel: {
      prepare:
        () =>
        ([{ planes }], out) =>
          out.planes.forEach((to, p) => {
            const from = planes[p];
            for (let i = 0; i < to.length; i++) to[i] = from[i] < level ? level : from[i];
          }),
    },
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
