import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { linesKernel } from '../engine/lines';

/** Plain arithmetic: `multiply · x + add`. */
export const scale = stepKind({
  do: 'scale',
  name: 'scale',
  says: 'Multiplies, then adds.',
  watch: {
    for: 'Brightness changes as a whole; shapes stay.',
    tooMuch: 'What leaves 0 to 1 is cut off when it is stretched or written.',
  },
  group: 'sky',
  words: ['multiply', 'add', 'offset', 'arithmetic'],
  version: 1,
  params: z.strictObject({ multiply: z.number().default(1), add: z.number().default(0) }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  build: (p, { input }) => ({
    kernel: linesKernel(() => ({ a: [p.add], b: [p.multiply] })),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
