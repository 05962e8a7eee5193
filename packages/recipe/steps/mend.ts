import { z } from 'zod';
import { limited } from '../limits';
import { defineStep } from './step-spec';

/** Parameters and texts of *mend*; what it does to pixels is in the engine. */
export const mend = defineStep({
  do: 'mend',
  name: 'retouch',
  summary: 'Fills blemishes from their surroundings or a nearby area.',
  hints: {
    for: 'The patch has the noise and brightness of its surroundings.',
    tooMuch: 'Strokes over stars or nebula invent data.',
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
