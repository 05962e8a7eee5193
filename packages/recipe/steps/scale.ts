import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *scale*; what it does to pixels is in the engine. */
export const scale = defineStep({
  do: 'scale',
  name: 'scale',
  summary: 'Multiplies, then adds.',
  hints: {
    for: 'Brightness changes as a whole; shapes stay.',
    tooMuch: 'What leaves 0 to 1 is cut off when it is stretched or written.',
  },
  group: 'sky',
  searchTerms: ['multiply', 'add', 'offset', 'arithmetic'],
  params: z.strictObject({ multiply: z.number().default(1), add: z.number().default(0) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
});
