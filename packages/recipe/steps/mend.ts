import { z } from 'zod';
import { limited } from '../limits';
import { defineStep } from './step-spec';

/** Parameters and texts of *mend*; what it does to pixels is in the engine. */
export const mend = defineStep({
  do: 'mend',
  name: 'mend',
  summary: 'Paints blemishes out, from around or from beside.',
  hints: {
    for: 'The patch goes on with the grain and brightness of what is around it.',
    tooMuch: 'Strokes over stars or knots of gas invent what is not there.',
  },
  group: 'stars',
  searchTerms: ['heal', 'clone', 'retouch', 'blemish', 'inpaint', 'remove artefact'],
  params: z.strictObject({
    strokes: limited(
      'strokes',
      z.strictObject({
        radius: z.number().positive(),
        points: limited('points', z.tuple([z.number(), z.number()])).min(1),
        from: z.tuple([z.number(), z.number()]).optional(),
      }),
    ),
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ strokes: [] }),
});
