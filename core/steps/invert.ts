import { z } from 'zod';
import { INVERSE } from '../engine/lines';
import { stepKind } from '../engine/step-kind';

/** `1 − x`. */
export const invert = stepKind({
  do: 'invert',
  name: 'invert',
  says: 'Turns bright to dark and dark to bright.',
  watch: {
    for: 'Bright places of the mask are those that the step may change.',
    tooMuch: 'A mask turned over twice is the mask again.',
  },
  group: 'mask',
  words: ['negative', 'reverse'],
  version: 1,
  params: z.strictObject({}),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  build: (_, { input }) => ({
    kernel: INVERSE,
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
