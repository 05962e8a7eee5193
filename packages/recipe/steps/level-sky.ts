import { z } from 'zod';
import { rectangle } from '../schema-primitives';
import { defineStep } from './step-spec';
import { reportNumber, reportNumbers } from './report-numbers';

/** Parameters and texts of *level sky*; what it does to pixels is in the engine. */
export const levelSky = defineStep({
  do: 'level-sky',
  name: 'sky level',
  summary: 'Shifts the sky background of all channels to one level.',
  hints: {
    for: 'All channels have the same sky value: the sky is grey.',
    tooMuch: 'A region with nebula in it tints the sky the other way.',
  },
  group: 'sky',
  searchTerms: ['neutral background', 'neutral sky', 'black point', 'colour cast'],
  params: z.strictObject({ region: rectangle.optional(), level: z.number().optional() }),
  reports: z.object({ /** One a plane. */ sky: reportNumbers, level: reportNumber }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  pinnable: ['sky'],
});
