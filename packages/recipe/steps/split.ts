import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *split*; what it does to pixels is in the engine. */
export const split = defineStep({
  do: 'split',
  name: 'split',
  summary: 'Keeps what is finer, or coarser, than a size.',
  hints: {
    for: 'The coarse half holds glow and no stars; the fine half all detail.',
    tooMuch: 'A small radius leaves half of the stars in the coarse part.',
  },
  group: 'detail',
  searchTerms: ['high pass', 'low pass', 'frequency separation', 'fine detail'],
  params: z.strictObject({ radius: z.number().positive().max(2000).default(20), keep: z.enum(['fine', 'coarse']) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ keep: 'fine' as const }),
});
