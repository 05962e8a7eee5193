import { z } from 'zod';
import { defineStep } from './step-spec';

/** Parameters and texts of *scale*; what it does to pixels is in the engine. */
export const scale = defineStep({
  do: 'scale',
  name: 'scale and offset',
  summary: 'Multiplies, then adds a constant.',
  hints: {
    for: 'Brightness changes as a whole; shapes stay the same.',
    tooMuch: 'Values outside 0–1 are clipped when stretched or exported.',
  },
  group: 'sky',
  searchTerms: ['multiply', 'add', 'offset', 'arithmetic'],
  params: z.strictObject({ multiply: z.number().default(1), add: z.number().default(0) }),
  labels: { multiply: 'factor', add: 'offset' },
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
});
