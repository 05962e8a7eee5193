import { z } from 'zod';
import { colour } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *tint*; what it does to pixels is in the engine. */
export const tint = defineStep({
  do: 'tint',
  name: 'tint',
  summary: 'Gives a mono image one colour.',
  hints: {
    for: 'The colour that this strand is to bring into the picture.',
    tooMuch: 'A light colour on a bright layer burns to white.',
  },
  group: 'show',
  searchTerms: ['colourise', 'colour map', 'one colour', 'hue', 'colorize', 'colourize'],
  params: z.strictObject({ colour }),
  accepts: { planes: 'mono', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ colour = '#ffb861' }) => ({ colour }),
});
