import { z } from 'zod';
import { colour, colourNumbers } from '../recipe/parts';
import { applyLines } from '../engine/lines';
import { stepKind } from '../engine/step-kind';

/** A mono image times a colour's three sRGB-coded numbers; no gamma is applied. */
export const tint = stepKind({
  do: 'tint',
  name: 'tint',
  says: 'Gives a mono image one colour.',
  watch: {
    for: 'The colour that this strand is to bring into the picture.',
    tooMuch: 'A light colour on a bright layer burns to white.',
  },
  group: 'show',
  words: ['colourise', 'colour map', 'one colour', 'hue', 'colorize', 'colourize'],
  version: 1,
  params: z.strictObject({ colour }),
  takes: { planes: 'mono', domain: 'either' },
  gives: { domain: 'same' },
  begins: ({ colour = '#ffb861' }) => ({ colour }),
  build: (p, { input }) => {
    const weights = colourNumbers(p.colour);
    return {
      kernel: {
        bind: () => {
          const times = applyLines({ a: [0], b: weights });
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
