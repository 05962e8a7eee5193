import { z } from 'zod';
import { colour } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *tint*; what it does to pixels is in the engine. */
export const tint = defineStep({
  do: 'tint',
  name: 'tint',
  summary: 'Colours a mono image.',
  hints: {
    for: 'The colour this strand adds to the picture.',
    tooMuch: 'A light colour on a bright layer clips to white.',
  },
  group: 'show',
  searchTerms: ['colourise', 'colour map', 'one colour', 'hue', 'colorize', 'colourize'],
  params: z.strictObject({ colour }),
  accepts: { planes: 'mono', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ colour = '#ffb861' }) => ({ colour }),
});
