import { implementStep } from './step-implementation';
import { growMargin, morphDisc } from '@owl-loom/algorithms/mask/morphology';
import { neighbourhoodKernel } from './neighbourhood';
import { grow as spec } from '@owl-loom/recipe/steps/grow';

/** The greatest value within a disc of full-size pixels; with a negative radius the least. */
export const growStep = implementStep(spec, {
  version: 1,
  build: (p, { input }) => {
    const at = (level: number) => p.radius / 2 ** level;
    return {
      kernel: neighbourhoodKernel(
        input.extent,
        (level) => growMargin(at(level)),
        (_, level) => (plane, rect, window) => morphDisc(plane, rect, at(level), window),
      ),
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
