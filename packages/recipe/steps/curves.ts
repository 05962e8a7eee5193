import { z } from 'zod';
import { listed } from '../limits';
import { defineStep } from './step-spec';

const curve = listed(z.tuple([z.number(), z.number()])).min(2);

/** A little more contrast. */
const GENTLE: z.infer<typeof curve> = [
  [0, 0],
  [0.25, 0.22],
  [0.75, 0.78],
  [1, 1],
];

/** Parameters and texts of *curves*; what it does to pixels is in the engine. */
export const curves = defineStep({
  do: 'curves',
  name: 'curves',
  summary: 'Tone curves for all channels, one channel, luminance or chroma.',
  hints: {
    for: 'The steepest part of the line is where detail gains.',
    tooMuch: 'Flat parts lose detail; steep parts show noise.',
  },
  group: 'show',
  searchTerms: ['curve', 's-curve', 'contrast', 'tone curve', 'rgb curves'],
  params: z.strictObject({
    all: curve.optional(),
    red: curve.optional(),
    green: curve.optional(),
    blue: curve.optional(),
    luminance: curve.optional(),
    chroma: curve.optional(),
  }),
  accepts: { planes: 'either', domain: 'stretched' },
  produces: { domain: 'same' },
  initialParams: () => ({ all: GENTLE }),
});
