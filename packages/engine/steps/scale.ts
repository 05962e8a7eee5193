import { z } from 'zod';
import { defineStep } from './step-kind';
import { linearKernel } from '../linear-kernel';

/** Plain arithmetic: `multiply · x + add`. */
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
  version: 1,
  params: z.strictObject({ multiply: z.number().default(1), add: z.number().default(0) }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  build: (p, { input }) => ({
    kernel: linearKernel(() => ({ a: [p.add], b: [p.multiply] })),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
