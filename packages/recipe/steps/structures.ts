import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *structures*; what it does to pixels is in the engine. */
export const structures = defineStep({
  do: 'structures',
  name: 'structures',
  summary: 'Keeps structures of some sizes and no others.',
  hints: {
    for: 'Only what is as large as you asked for is left.',
    tooMuch: 'Rings about bright stars, which hold every size at once.',
  },
  group: 'detail',
  searchTerms: ['wavelets', 'multiscale', 'starlet', 'layers of size'],
  params: z.strictObject({
    from: z.number().positive().default(2),
    to: z.number().positive().default(128),
    residual: z.boolean().default(false),
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
});
