import { z } from 'zod';
import { defineStep } from './step-spec';
import { reportNumber, reportNumbers } from './report-numbers';

/** Parameters and texts of *align*; what it does to pixels is in the engine. */
export const align = defineStep({
  do: 'align',
  name: 'align',
  summary: 'Registers this strand to another strand.',
  hints: {
    for: 'Stars of both strands match: blink against the reference at 1:1.',
    tooMuch: 'Too few matched stars rotate or distort the picture: check the number matched.',
  },
  group: 'place',
  searchTerms: ['register', 'registration', 'line up', 'align stars', 'shift', 'rotate', 'structures', 'correlation'],
  params: z.strictObject({
    to: z.string(),
    by: z.enum(['stars', 'structures', 'wcs']).default('stars'),
    model: z.enum(['shift', 'similarity', 'affine']).default('similarity'),
  }),
  labels: { to: 'reference', by: 'method' },
  reports: z.object({
    by: z.enum(['held', 'wcs', 'stars', 'structures']),
    /** Two rows of three: frame pixels of this image to those of the other. */
    matrix: z.array(reportNumbers),
    /** Pixels. */
    rms: reportNumber.optional(),
    matched: reportNumber.optional(),
    mirrored: z.boolean().optional(),
    correlation: reportNumber.optional(),
    certainty: reportNumber.optional(),
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  pinnable: ['matrix'],
  initialParams: ({ others }) => ({ to: others[0] ?? '' }),
  strandsRead: (p) => [p.to],
  moves: true,
});
