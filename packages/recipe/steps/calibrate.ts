import { z } from 'zod';
import { triple } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *calibrate*; what it does to pixels is in the engine. */
export const calibrate = defineStep({
  do: 'calibrate',
  name: 'calibrate',
  summary: 'Balances colour on the stars.',
  hints: {
    for: 'Stars range from blue over white to orange, and none is green.',
    tooMuch: 'A few odd stars decide for all: read how many were used.',
  },
  group: 'sky',
  searchTerms: ['white balance', 'colour calibration', 'photometric', 'background neutral'],
  params: z.strictObject({
    method: z.enum(['stars', 'catalogue', 'manual']).default('stars'),
    white: triple.optional(),
  }),
  accepts: { planes: 'colour', domain: 'linear' },
  produces: { domain: 'same' },
  pinnable: ['white'],
});
