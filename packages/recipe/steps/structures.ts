import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *structures*; what it does to pixels is in the engine. */
export const structures = defineStep({
  do: 'structures',
  name: 'structures',
  summary: 'Keeps structures of selected sizes.',
  hints: {
    for: 'Only structures of the selected sizes are left.',
    tooMuch: 'Rings around bright stars, which contain every size.',
  },
  group: 'detail',
  searchTerms: ['wavelets', 'multiscale', 'starlet', 'layers of size'],
  params: z.strictObject({
    from: z.number().positive().default(2),
    to: z.number().positive().default(128),
    residual: z.boolean().default(false),
  }),
  labels: { from: 'smallest size', to: 'largest size', residual: 'larger structures' },
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
});
