import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber, reportNumbers } from './report-numbers';

/** Parameters and texts of *gradient*; what it does to pixels is in the engine. */
export const gradient = defineStep({
  do: 'gradient',
  name: 'gradient',
  summary: 'Removes sky gradients and keeps the nebula.',
  hints: {
    for: 'The contours follow the sky glow and do not outline the nebula.',
    tooMuch: 'Faint outer nebula is removed as well: remove samples there, or increase smoothing.',
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
  labels: { by: 'correction' },
  reports: z.object({ /** Boxes on the sky. */ samples: reportNumber, /** One a plane. */ level: reportNumbers }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
});
