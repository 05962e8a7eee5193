import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *invert*; what it does to pixels is in the engine. */
export const invert = defineStep({
  do: 'invert',
  name: 'invert',
  summary: 'Inverts: bright becomes dark.',
  hints: {
    for: 'Bright places of the mask are those that the step may change.',
    tooMuch: 'Inverting twice gives the original.',
  },
  group: 'mask',
  searchTerms: ['negative', 'reverse'],
  params: z.strictObject({}),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
});
