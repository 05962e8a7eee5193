import { z } from 'zod';
import { rectangle } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *level sky*; what it does to pixels is in the engine. */
export const levelSky = defineStep({
  do: 'level-sky',
  name: 'level sky',
  summary: 'Shifts the sky of each plane to one level.',
  hints: {
    for: 'The sky of all planes has one number, so that it is grey.',
    tooMuch: 'A region with gas in it tints the sky the other way.',
  },
  group: 'sky',
  searchTerms: ['neutral background', 'neutral sky', 'black point', 'colour cast'],
  params: z.strictObject({ region: rectangle.optional(), level: z.number().optional() }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  pinnable: ['sky'],
});
