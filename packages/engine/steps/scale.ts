import { implementStep } from './step-implementation';
import { linearKernel } from '../linear-kernel';
import { scale as spec } from '@owl-loom/recipe/steps/scale';

/** Plain arithmetic: `multiply · x + add`. */
export const scaleStep = implementStep(spec, {
  version: 1,
  build: (p, { input }) => ({
    kernel: linearKernel(() => ({ a: [p.add], b: [p.multiply] })),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
