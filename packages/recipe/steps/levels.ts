import { z } from 'zod';
import { perPlane } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *levels*; what it does to pixels is in the engine. */
export const levels = defineStep({
  do: 'levels',
  name: 'levels',
  summary: 'Sets black point, midtones and white point.',
  hints: {
    for: 'The left foot of the histogram is just right of black.',
    tooMuch: 'Black too high clips faint nebula; white too low clips stars.',
  },
  group: 'show',
  searchTerms: ['black point', 'white point', 'midtones', 'histogram'],
  params: z.strictObject({ black: perPlane.default(0), mid: perPlane.default(0.5), white: perPlane.default(1) }),
  labels: { mid: 'midtones' },
  accepts: { planes: 'either', domain: 'stretched' },
  produces: { domain: 'same' },
});
