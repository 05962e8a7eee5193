import { z } from 'zod';
import { stepKind } from '../engine/step-kind';

/** Nothing darker than `level`. */
export const floor = stepKind({
  do: 'floor',
  name: 'floor',
  says: 'Lets nothing be darker than this.',
  watch: {
    for: 'The darkest sky is a little brighter than black, and dust stays apart from it.',
    tooMuch: 'Dust and sky melt into one flat tone.',
  },
  group: 'show',
  words: ['black clip', 'raise blacks', 'pedestal'],
  version: 1,
  params: z.strictObject({ level: z.number() }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  begins: () => ({ level: 0.05 }),
  build: ({ level }, { input }) => ({
    kernel: {
      bind:
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
