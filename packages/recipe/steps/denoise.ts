import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumbers } from './report-numbers';

/** Parameters and texts of *denoise*; what it does to pixels is in the engine. */
export const denoise = defineStep({
  do: 'denoise',
  name: 'denoise',
  summary: 'Reduces luminance and chroma noise separately.',
  hints: {
    for: 'Look at what was removed (T): grain, without the shapes of stars or nebula.',
    tooMuch: 'Smooth, plastic-looking nebula and soft small stars.',
  },
  group: 'detail',
  searchTerms: ['noise reduction', 'smooth', 'quiet', 'grain'],
  params: z.strictObject({
    strength: z.number().nonnegative().default(1),
    scales: z.int().min(1).max(8).default(4),
    chroma: z.number().nonnegative().default(1),
  }),
  reports: z.object({ /** One a plane. */ noise: reportNumbers }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  // On a coarse level the noise is averaged away already, and with it what the step would do.
  cacheResult: true,
});
