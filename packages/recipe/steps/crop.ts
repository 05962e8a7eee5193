import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *crop*; what it does to pixels is in the engine. */
export const crop = defineStep({
  do: 'crop',
  name: 'crop',
  summary: 'Crops to a rectangle.',
  hints: {
    for: 'Ragged edges lie outside, and all that you want to show inside.',
    tooMuch: 'Cropped areas are missing in everything that uses this strand.',
  },
  group: 'place',
  searchTerms: ['trim', 'cut', 'edges', 'ragged'],
  params: z.strictObject({ x: z.number(), y: z.number(), width: z.number().positive(), height: z.number().positive() }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ frame: { x, y, width, height } }) => ({
    x: Math.round(x + 0.05 * width),
    y: Math.round(y + 0.05 * height),
    width: Math.round(0.9 * width),
    height: Math.round(0.9 * height),
  }),
});
