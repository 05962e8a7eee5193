import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *match seeing*; what it does to pixels is in the engine. */
export const matchSeeing = defineStep({
  do: 'match-seeing',
  name: 'match seeing',
  summary: 'Softens this to the star width of another strand.',
  hints: {
    for: 'Stars of both strands are equally wide.',
    tooMuch: 'The sharper image loses its detail for good in all that reads this.',
  },
  group: 'lines',
  searchTerms: ['fwhm', 'blur', 'psf', 'star size'],
  params: z.strictObject({ to: z.string() }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ others }) => ({ to: others[0] ?? '' }),
  strandsRead: (p) => [p.to],
});
