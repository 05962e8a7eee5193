import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber } from './report-numbers';

/** Parameters and texts of *continuum*; what it does to pixels is in the engine. */
export const continuum = defineStep({
  do: 'continuum',
  name: 'continuum',
  summary: 'Subtracts the continuum (starlight) from a line filter.',
  hints: {
    for: 'Stars disappear into the sky; nebula flux is kept.',
    tooMuch: 'Stars become dark holes: k is too large.',
  },
  group: 'lines',
  searchTerms: ['narrowband', 'starlight', 'emission', 'continuum subtraction', 'hydrogen'],
  params: z.strictObject({
    broad: z.string(),
    method: z.enum(['stars', 'skewness', 'manual']).default('stars'),
    k: z.number().optional(),
    matchSeeing: z.boolean().default(false),
    mend: z.boolean().default(false),
  }),
  labels: { broad: 'broadband', method: 'k from', mend: 'star residuals' },
  reports: z.object({
    method: z.enum(['held', 'manual', 'stars', 'skewness']),
    k: reportNumber,
    /** Without bounds until the stars are counted. */
    kError: reportNumber.optional(),
    stars: reportNumber.optional(),
    /** Share of the pixels below the sky, 0 to 1. */
    belowSky: reportNumber.optional(),
    starlit: z.boolean().optional(),
    sky: reportNumber,
    mended: reportNumber.optional(),
  }),
  accepts: { planes: 'mono', domain: 'linear' },
  produces: { domain: 'same' },
  pinnable: ['k'],
  initialParams: ({ others }) => ({
    broad: others.find((id) => /^(r|red|l|lum)/i.test(id)) ?? others[0] ?? '',
    mend: true,
  }),
  strandsRead: (p) => [p.broad],
});
