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
  name: 'place',
  summary: 'Turns, flips, sizes or moves by hand.',
  hints: {
    for: 'Stars of what is moved lie on those of what is below.',
    tooMuch: 'Every turn by hand that is no quarter softens a little.',
  },
  group: 'place',
  searchTerms: ['rotate', 'flip', 'mirror', 'resize', 'move', 'binning', 'straighten', 'level the horizon'],
  params,
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  moves: true,
});
