import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *range*; what it does to pixels is in the engine. */
export const range = defineStep({
  do: 'range',
  name: 'range',
  summary: 'Selects a brightness range: white inside, black outside.',
  hints: {
    for: 'White covers what should change, with soft edges.',
    tooMuch: 'Hard edges show as outlines: increase the feather.',
  },
  group: 'mask',
  searchTerms: ['threshold', 'range mask', 'luminance range', 'select'],
  params: z.strictObject({ low: z.number(), high: z.number(), feather: z.number().nonnegative().default(0) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'stretched' },
  initialParams: () => ({ low: 0.3, high: 1, feather: 0.1 }),
});
