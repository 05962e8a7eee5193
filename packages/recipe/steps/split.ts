import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *split*; what it does to pixels is in the engine. */
export const split = defineStep({
  do: 'split',
  name: 'detail split',
  summary: 'Keeps only detail finer, or coarser, than a radius.',
  hints: {
    for: 'The coarse part has nebula and no stars; the fine part has all detail.',
    tooMuch: 'A small radius leaves half of the stars in the coarse part.',
  },
  group: 'detail',
  searchTerms: ['high pass', 'low pass', 'frequency separation', 'fine detail'],
  params: z.strictObject({ radius: z.number().positive().max(2000).default(20), keep: z.enum(['fine', 'coarse']) }),
  labels: { keep: 'result' },
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ keep: 'fine' as const }),
});
