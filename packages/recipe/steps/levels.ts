import { z } from 'zod';
import { perPlane } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *levels*; what it does to pixels is in the engine. */
export const levels = defineStep({
  do: 'levels',
  name: 'levels',
  summary: 'Sets black, middle and white of a stretched image.',
  hints: {
    for: 'The foot of the histogram stands a little right of black.',
    tooMuch: 'Black set into it cuts faint gas off; white set low burns stars out.',
  },
  group: 'show',
  searchTerms: ['black point', 'white point', 'midtones', 'histogram'],
  params: z.strictObject({ black: perPlane.default(0), mid: perPlane.default(0.5), white: perPlane.default(1) }),
  accepts: { planes: 'either', domain: 'stretched' },
  produces: { domain: 'same' },
});
