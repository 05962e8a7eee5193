import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber } from './report-numbers';

/** Parameters and texts of *match seeing*; what it does to pixels is in the engine. */
export const matchSeeing = defineStep({
  do: 'match-seeing',
  name: 'match seeing',
  summary: 'Blurs this strand to the FWHM of another.',
  hints: {
    for: 'Stars of both strands have the same FWHM.',
    tooMuch: 'The sharper strand loses detail in everything that uses it.',
  },
  group: 'lines',
  searchTerms: ['fwhm', 'blur', 'psf', 'star size'],
  params: z.strictObject({ to: z.string() }),
  labels: { to: 'reference' },
  reports: z.object({
    /** Pixels. */
    fwhm: reportNumber,
    /** FWHM of the other image, in pixels. */
    to: reportNumber,
    /** Of the Gaussian, in pixels. */
    sigma: reportNumber,
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ others }) => ({ to: others[0] ?? '' }),
  strandsRead: (p) => [p.to],
});
