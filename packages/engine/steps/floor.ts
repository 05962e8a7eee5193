import { implementStep } from './step-implementation';
import { floor as spec } from '@owl-loom/recipe/steps/floor';

/** Nothing darker than `level`. */
export const floorStep = implementStep(spec, {
  version: 1,
  build: ({ level }, { input }) => ({
    kernel: {
      prepare:
        () =>
        ([{ planes }], out) =>
          out.planes.forEach((to, p) => {
            const from = planes[p];
            for (let i = 0; i < to.length; i++) to[i] = from[i] < level ? level : from[i];
          }),
    },
    figures: [],
    planes: input.planes,
    extent: input.extent,
  }),
});
