import { z } from 'zod';
import { defineStep } from './step-spec';

export const params = z.strictObject({
  turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]).default(0),
  flip: z.enum(['none', 'horizontal', 'vertical', 'both']).default('none'),
  degrees: z.number().default(0),
  dx: z.number().default(0),
  dy: z.number().default(0),
  size: z.number().positive().max(100).default(1),
});

/** Parameters and texts of *place*; what it does to pixels is in the engine. */
export const place = defineStep({
  do: 'place',
  name: 'transform',
  summary: 'Rotates, flips, scales or shifts by hand.',
  hints: {
    for: 'Stars of the moved image match those below.',
    tooMuch: 'Rotations other than 90° soften slightly.',
  },
  group: 'place',
  searchTerms: ['rotate', 'flip', 'mirror', 'resize', 'move', 'binning', 'straighten', 'level the horizon'],
  params,
  labels: { turn: 'rotation', degrees: 'angle', size: 'scale', dx: 'shift x', dy: 'shift y' },
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  moves: true,
});
