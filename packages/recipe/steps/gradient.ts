import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *gradient*; what it does to pixels is in the engine. */
export const gradient = defineStep({
  do: 'gradient',
  name: 'gradient',
  summary: 'Takes uneven sky out, and leaves the nebula.',
  hints: {
    for: 'The contours follow the glow of the sky and do not wind about the nebula.',
    tooMuch: 'Faint outer gas goes with the glow: take boxes off it, or more smoothing.',
  },
  group: 'sky',
  searchTerms: ['light pollution', 'background', 'background extraction', 'flatten', 'vignette', 'glow'],
  params: z.strictObject({
    model: z.enum(['polynomial', 'spline']).default('spline'),
    degree: z.int().min(1).max(4).default(2),
    smoothing: z.number().nonnegative().max(1e6).default(1),
    samples: z
      .union([
        z.literal('auto'),
        z.array(z.strictObject({ x: z.number(), y: z.number(), size: z.number().positive().max(2000) })).max(1000),
      ])
      .default('auto'),
    by: z.enum(['subtract', 'divide']).default('subtract'),
  }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
});
