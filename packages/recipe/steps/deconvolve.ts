import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber, reportNumbers } from './report-numbers';

/** Parameters and texts of *deconvolve*; what it does to pixels is in the engine. */
export const deconvolve = defineStep({
  do: 'deconvolve',
  name: 'deconvolve',
  summary: 'Sharpens with the PSF measured on the stars.',
  hints: {
    for: 'Stars become narrower and gas crisper at 1:1.',
    tooMuch: 'Dark rings around stars and worm patterns in the sky: fewer iterations, or less strength.',
  },
  group: 'detail',
  searchTerms: ['deconvolution', 'seeing', 'sharpen', 'psf', 'richardson lucy'],
  params: z.strictObject({
    rounds: z.int().min(1).max(200).default(10),
    strength: z.number().min(0).max(1).default(1),
  }),
  labels: { rounds: 'iterations' },
  reports: z.object({
    /** Pixels, one a plane. */
    fwhm: reportNumbers,
    beta: reportNumbers,
    stars: reportNumber,
  }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  // What it does lies within a star's width, of which a coarse level shows little.
  cacheResult: true,
});
