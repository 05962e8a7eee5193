import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *smaller stars*; what it does to pixels is in the engine. */
export const starShrink = defineStep({
  do: 'star-shrink',
  name: 'smaller stars',
  summary: 'Draws stars in towards their middles, what lies under them untouched.',
  hints: {
    for: 'Stars are smaller, and the gas between them shows.',
    tooMuch: 'Hard dots without halos.',
  },
  group: 'stars',
  searchTerms: ['reduce stars', 'star reduction', 'smaller stars'],
  params: z.strictObject({ amount: z.number().min(0).max(1).default(0.5) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  needsStars: true,
});
