import { z } from 'zod';
import { above } from './above';
import { defineStep } from './step-spec';

/** Parameters and texts of *saturation*; what it does to pixels is in the engine. */
export const saturation = defineStep({
  do: 'saturation',
  name: 'saturation',
  summary: 'Increases or reduces colour; can protect dark sky.',
  hints: {
    for: 'Nebula gains colour; dark sky stays neutral.',
    tooMuch: 'Red and blue specks in the sky; nebula of one flat colour.',
  },
  group: 'colour',
  searchTerms: ['vibrance', 'chroma', 'colourfulness', 'desaturate', 'grey'],
  params: z.strictObject({
    amount: z.number().min(-1).max(1).default(0),
    shadows: z.number().min(0).max(1).default(1),
    above: above.optional(),
  }),
  accepts: { planes: 'colour', domain: 'stretched' },
  produces: { domain: 'same' },
  initialParams: () => ({ amount: 0.2, shadows: 0.3, above: 'auto' as const }),
});
