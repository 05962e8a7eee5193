import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *align*; what it does to pixels is in the engine. */
export const align = defineStep({
  do: 'align',
  name: 'align',
  summary: 'Lays this onto the pixels of another strand.',
  hints: {
    for: 'Stars of both strands lie on each other; blink against the other strand at 1:1.',
    tooMuch: 'A match on too few stars turns or stretches the picture: read how many matched.',
  },
  group: 'place',
  searchTerms: ['register', 'registration', 'line up', 'align stars', 'shift', 'rotate', 'structures', 'correlation'],
  params: z.strictObject({
    to: z.string(),
    by: z.enum(['stars', 'structures', 'wcs']).default('stars'),
    model: z.enum(['shift', 'similarity', 'affine']).default('similarity'),
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  pinnable: ['matrix'],
  initialParams: ({ others }) => ({ to: others[0] ?? '' }),
  strandsRead: (p) => [p.to],
  moves: true,
});
