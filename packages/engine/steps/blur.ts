import { implementStep } from './step-implementation';
import { gaussianKernel } from './neighbourhood';
import { blur as spec } from '@owl-loom/recipe/steps/blur';

/** Smooths by a Gaussian whose σ is `radius` full-size pixels. */
export const blurStep = implementStep(spec, {
  version: 2,
  build: (p, { input }) => ({
    kernel: gaussianKernel(input.extent, () => p.radius),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
