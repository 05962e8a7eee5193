import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber } from './report-numbers';

/** Parameters and texts of *smaller stars*; what it does to pixels is in the engine. */
export const starShrink = defineStep({
  do: 'star-shrink',
  name: 'smaller stars',
  summary: 'Reduces star size; the background stays unchanged.',
  hints: {
    for: 'Stars are smaller, and the nebula between them shows.',
    tooMuch: 'Hard dots without halos.',
  },
  group: 'stars',
  searchTerms: ['reduce stars', 'star reduction', 'smaller stars'],
  params: z.strictObject({ amount: z.number().min(0).max(1).default(0.5) }),
  reports: z.object({ stars: reportNumber }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  needsStars: true,
});
