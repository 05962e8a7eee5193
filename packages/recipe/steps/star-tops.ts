import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *star tops*; what it does to pixels is in the engine. */
export const starTops = defineStep({
  do: 'star-tops',
  name: 'star tops',
  summary: 'Gives cut-off stars their tops back, as their wings tell them.',
  hints: {
    for: 'Bright stars have their colour up to the middle where the stretch is by hue, and no coloured rims.',
    tooMuch: 'What was never recorded is told by the wings: do not measure it.',
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
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  needsStars: true,
});
