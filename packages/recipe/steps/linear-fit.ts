import { z } from 'zod';
import { rectangle } from '../schema-primitives';
import { defineStep } from './step-spec';

/** Parameters and texts of *linear fit*; what it does to pixels is in the engine. */
export const linearFitStep = defineStep({
  do: 'linear-fit',
  name: 'linear fit',
  summary: 'Brings this to the brightness of another strand.',
  hints: {
    for: 'The cloud of points lies along the line, and skies of both look alike.',
    tooMuch: 'A fit on gas that both do not share makes one of them too bright: give it a region.',
  },
  group: 'sky',
  searchTerms: ['match brightness', 'normalise', 'equalise', 'balance filters'],
  params: z.strictObject({
    to: z.string(),
    method: z.enum(['auto', 'pixels', 'levels']).default('auto'),
    region: rectangle.optional(),
    low: z.number().optional(),
    high: z.number().optional(),
  }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  pinnable: ['a', 'b'],
  initialParams: ({ others }) => ({ to: others[0] ?? '' }),
  strandsRead: (p) => [p.to],
});
