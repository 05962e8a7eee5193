import { ONE_MINUS_KERNEL } from '../linear-kernel';
import { implementStep } from './step-implementation';
import { invert as spec } from '@owl-loom/recipe/steps/invert';

/** `1 − x`. */
export const invertStep = implementStep(spec, {
  version: 1,
  build: (_, { input }) => ({
    kernel: ONE_MINUS_KERNEL,
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
