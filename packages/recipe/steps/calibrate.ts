import { z } from 'zod';
import { triple } from '../schema-primitives';
import { defineStep } from './step-spec';
import { reportNumber } from './report-numbers';

/** Parameters and texts of *calibrate*; what it does to pixels is in the engine. */
export const calibrate = defineStep({
  do: 'calibrate',
  name: 'colour calibration',
  summary: 'Sets the white balance from star colours.',
  hints: {
    for: 'Stars range from blue through white to orange; none is green.',
    tooMuch: 'A few unusual stars decide for all: check how many were used.',
  },
  group: 'sky',
  searchTerms: ['white balance', 'colour calibration', 'photometric', 'background neutral'],
  params: z.strictObject({
    method: z.enum(['stars', 'catalogue', 'manual']).default('stars'),
    white: triple.optional(),
  }),
  labels: { white: 'gains' },
  reports: z.object({
    method: z.enum(['held', 'stars', 'catalogue', 'manual']),
    /** Gains of red, green and blue. */
    white: z.tuple([reportNumber, reportNumber, reportNumber]),
    stars: reportNumber.optional(),
  }),
  accepts: { planes: 'colour', domain: 'linear' },
  produces: { domain: 'same' },
  pinnable: ['white'],
});
