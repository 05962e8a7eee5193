import { z } from 'zod';
import { starRemovalParams } from './star-removal';
import { defineStep } from './step-spec';
import { starRemovalReport } from './star-removal-report';

/** Parameters and texts of *starless*; what it does to pixels is in the engine. */
export const starless = defineStep({
  do: 'starless',
  name: 'starless',
  summary: 'Removes stars and fills the gaps.',
  hints: {
    for: 'No star residuals; nebula continues smoothly.',
    tooMuch: 'Knots of nebula and galaxies are removed as well: keep them by double-click, or lower the sensitivity.',
  },
  group: 'stars',
  searchTerms: ['remove stars', 'star removal', 'without stars', 'nebula only'],
  params: z.strictObject(starRemovalParams),
  labels: { grow: 'fill radius' },
  reports: starRemovalReport,
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  cacheResult: true,
});
