import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *blur*; what it does to pixels is in the engine. */
export const blur = defineStep({
  do: 'blur',
  name: 'blur',
  summary: 'Gaussian blur.',
  hints: {
    for: 'Only what is smaller than the radius goes soft.',
    tooMuch: 'Stars swell and small structures vanish.',
  },
  group: 'detail',
  searchTerms: ['gaussian', 'soften', 'smooth'],
  params: z.strictObject({ radius: z.number().nonnegative().max(2000) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ radius: 2 }),
});
