import { z } from 'zod';
import { starRemovalParams } from './star-removal';
import { defineStep } from './step-spec';
import { starRemovalReport } from './star-removal-report';

/** Parameters and texts of *stars only*; what it does to pixels is in the engine. */
export const starsOnly = defineStep({
  do: 'stars-only',
  name: 'stars only',
  summary: 'Keeps only the stars.',
  hints: {
    for: 'Stars on black, with their halos.',
    tooMuch: 'Patches of nebula among the stars: lower the sensitivity.',
  },
  group: 'stars',
  searchTerms: ['star layer', 'extract stars', 'star mask'],
  params: z.strictObject({ by: z.enum(['difference', 'screen']).default('difference'), ...starRemovalParams }),
  labels: { by: 'recombine by', grow: 'fill radius' },
  reports: starRemovalReport,
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  cacheResult: true,
});
