import { z } from 'zod';
import { stepKind } from './kind';
import { affine } from './pointwise';

/** Plain arithmetic: `multiply · x + add`. */
export const scale = stepKind({
  do: 'scale',
  version: 1,
  params: z.strictObject({ multiply: z.number().default(1), add: z.number().default(0) }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  affine: true,
  build: (p, { input }) => ({
    kernel: { bind: () => affine([p.add], [p.multiply]) },
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
