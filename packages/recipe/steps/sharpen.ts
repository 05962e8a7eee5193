import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *sharpen*; what it does to pixels is in the engine. */
export const sharpen = defineStep({
  do: 'sharpen',
  name: 'sharpen',
  summary: 'Enhances detail of one size; limits dark halos.',
  hints: {
    for: 'Detail of the size of the radius is clearer at 1:1.',
    tooMuch: 'Dark rings around stars and a gritty sky: raise halo suppression, or use a mask.',
  },
  group: 'detail',
  searchTerms: ['unsharp mask', 'local contrast', 'crisp', 'detail'],
  params: z.strictObject({
    radius: z.number().positive().max(2000).default(2),
    amount: z.number().default(0.5),
    halo: z.number().min(0).max(1).default(0),
    on: z.enum(['luminance', 'planes']).default('luminance'),
  }),
  labels: { halo: 'halo suppression', on: 'apply to' },
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ halo: 0.7 }),
});
