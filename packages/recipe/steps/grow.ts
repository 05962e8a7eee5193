import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *grow*; what it does to pixels is in the engine. */
export const grow = defineStep({
  do: 'grow',
  name: 'grow',
  summary: 'Grows the bright area; negative values shrink it.',
  hints: {
    for: 'The mask reaches as far past the bright parts as you want it to.',
    tooMuch: 'The mask covers areas it should protect.',
  },
  group: 'mask',
  searchTerms: ['dilate', 'erode', 'expand', 'shrink', 'widen'],
  params: z.strictObject({ radius: z.number().min(-500).max(500) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ radius: 3 }),
});
