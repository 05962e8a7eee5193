import { z } from 'zod';
import { parseHexColour } from '#algorithms/colour/hex';
import { colour } from '#recipe/schema-primitives';
import { applyLinearMap } from '../linear-kernel';
import { defineStep } from './step-kind';

/** A mono image times a colour's three sRGB-coded numbers; no gamma is applied. */
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
  version: 1,
  params: z.strictObject({ colour }),
  accepts: { planes: 'mono', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ colour = '#ffb861' }) => ({ colour }),
  build: (p, { input }) => {
    const weights = parseHexColour(p.colour);
    return {
      kernel: {
        prepare: () => {
          const times = applyLinearMap({ a: [0], b: weights });
          return (
            [
              {
                rect,
                planes: [mono],
              },
            ],
            out,
            tally,
          ) => times([{ rect, planes: [mono, mono, mono] }], out, tally);
        },
      },
      figures: [],
      planes: 3,
      extent: input.extent,
    };
  },
});
