import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber, reportNumbers } from './report-numbers';

/** Parameters and texts of *star tops*; what it does to pixels is in the engine. */
export const starTops = defineStep({
  do: 'star-tops',
  name: 'star cores',
  summary: 'Rebuilds clipped star cores from the unclipped star profile.',
  hints: {
    for: 'Bright stars have their colour up to the middle where the stretch is by hue, and no coloured rims.',
    tooMuch: 'Rebuilt cores are estimates: do not use them for photometry.',
  },
  group: 'stars',
  searchTerms: [
    'star colour',
    'saturated stars',
    'burnt out',
    'white cores',
    'magenta rims',
    'clipped stars',
    'repair',
  ],
  params: z.strictObject({}),
  reports: z.object({
    /** One a plane. */
    stars: reportNumbers,
    /** How far the brightest stood above the cut, as a multiple. */
    brightest: reportNumber,
  }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  needsStars: true,
});
