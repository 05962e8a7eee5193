import { z } from 'zod';
import { ONE_MINUS_KERNEL } from '../linear-kernel';
import { defineStep } from './step-kind';

/** `1 − x`. */
export const invert = defineStep({
  do: 'invert',
  name: 'invert',
  summary: 'Turns bright to dark and dark to bright.',
  hints: {
    for: 'Bright places of the mask are those that the step may change.',
    tooMuch: 'A mask turned over twice is the mask again.',
  },
  group: 'mask',
  searchTerms: ['negative', 'reverse'],
  version: 1,
  params: z.strictObject({}),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  build: (_, { input }) => ({
    kernel: ONE_MINUS_KERNEL,
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
