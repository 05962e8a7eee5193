import { z } from 'zod';
import { defineStep } from './step-kind';

/** Green no more than the mean, or the greater, of red and blue; magenta likewise, on the inverse. */
export const cap = defineStep({
  do: 'cap',
  name: 'cap',
  summary: 'Lets green, or magenta, be no more than the other colours allow.',
  hints: {
    for: 'Green specks and green sky go; teal gas stays teal.',
    tooMuch: 'Oxygen turns blue or magenta: ease the strength, or allow the greater of the two.',
  },
  group: 'colour',
  searchTerms: [
    'green cast',
    'remove green',
    'green noise',
    'magenta cast',
    'neutralise',
    'less green',
    'take green out',
    'reduce magenta',
    'less magenta',
  ],
  version: 1,
  params: z.strictObject({
    colour: z.enum(['green', 'magenta']),
    against: z.enum(['mean', 'greater']).default('mean'),
    strength: z.number().min(0).max(1).default(1),
  }),
  accepts: { planes: 'colour', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ colour: 'green' as const }),
  build: ({ colour, against, strength }, { input }) => ({
    kernel: {
      prepare:
        () =>
        (
          [
            {
              planes: [r, g, b],
            },
          ],
          out,
        ) => {
          const [red, green, blue] = out.planes;
          red.set(r);
          blue.set(b);
          for (let i = 0; i < g.length; i++) {
            const [x, z] = [r[i], b[i]];
            // The greater of the inverses is the inverse of the lesser.
            const limit = against === 'mean' ? (x + z) / 2 : colour === 'green' ? Math.max(x, z) : Math.min(x, z);
            const over = colour === 'green' ? g[i] > limit : g[i] < limit;
            green[i] = over || limit !== limit ? g[i] + strength * (limit - g[i]) : g[i];
          }
        },
    },
    figures: [],
    planes: 3,
    extent: input.extent,
  }),
});
