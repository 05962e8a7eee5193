import { implementStep } from './step-implementation';
import { gaussianKernel } from './neighbourhood';
import { split as spec } from '@owl-loom/recipe/steps/split';

/** Parts an image into what is finer than `radius` and what is coarser; fine is `0.5 + (x − coarse)/2`, which linear-light over coarse undoes. */
export const splitStep = implementStep(spec, {
  version: 2,
  build: (p, { input }) => ({
    kernel: gaussianKernel(
      input.extent,
      () => p.radius,
      p.keep === 'coarse' ? undefined : (coarse, own) => coarse.map((c, i) => 0.5 + (own[i] - c) / 2),
    ),
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
