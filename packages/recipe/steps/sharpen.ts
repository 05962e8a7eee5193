import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *sharpen*; what it does to pixels is in the engine. */
export const sharpen = defineStep({
  do: 'sharpen',
  name: 'sharpen',
  summary: 'Brings out detail of one size, dark rings held back.',
  hints: {
    for: 'Edges of the size of the radius stand out at 1:1.',
    tooMuch: 'Dark rings about stars and a gritty sky: more halo held back, or a mask.',
  },
  group: 'detail',
  searchTerms: ['unsharp mask', 'local contrast', 'crisp', 'detail'],
  params: z.strictObject({
    radius: z.number().positive().max(2000).default(2),
    amount: z.number().default(0.5),
    halo: z.number().min(0).max(1).default(0),
    on: z.enum(['luminance', 'planes']).default('luminance'),
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ halo: 0.7 }),
});
