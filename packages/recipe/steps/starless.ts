import { z } from 'zod';
import { starRemovalParams } from './star-removal';
import { defineStep } from './step-spec';

/** Parameters and texts of *starless*; what it does to pixels is in the engine. */
export const starless = defineStep({
  do: 'starless',
  name: 'starless',
  summary: 'Takes the stars out and closes the gaps.',
  hints: {
    for: 'Nothing of stars is left, and gas runs on where they were.',
    tooMuch: 'Knots of gas and galaxies go with the stars: spare them, or lower the sensitivity.',
  },
  group: 'stars',
  searchTerms: ['remove stars', 'star removal', 'without stars', 'nebula only'],
  params: z.strictObject(starRemovalParams),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  cacheResult: true,
});
