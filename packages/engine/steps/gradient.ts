import { expectKind } from '../measurements/index';
import { removeSurface } from '@owl-loom/algorithms/gradient/surface';
import { implementStep } from './step-implementation';
import { gradient as spec } from '@owl-loom/recipe/steps/gradient';

/**
 * Takes a gradient out: a smooth surface through sample boxes on the sky (their middles and sides in frame pixels), subtracted, or divided
 * out where the gradient dims as vignetting does. The level of the sky is kept.
 */
export const gradientStep = implementStep(spec, {
  version: 2,
  build: (p, { input }) => ({
    kernel: {
      // What is smooth takes nothing off a star that its own sky does not; division changes stars with their place.
      ...(p.by === 'subtract' && {
        starSources: Array.from({ length: input.planes }, (_, plane) => ({ input: 0, plane, by: 1 })),
      }),
      prepare: ([figure], level) => {
        const { planes } = expectKind('gradient', figure);
        const divides = p.by === 'divide';
        return ([from], out) =>
          out.planes.forEach((to, k) => {
            const { model, level: kept } = planes[k];
            removeSurface(model, out.rect, level, from.planes[k], { kept, divides }, to);
          });
      },
      report: ([figure]) => {
        const { boxes, planes } = expectKind('gradient', figure);
        return { samples: boxes.length, level: planes.map((plane) => plane.level) };
      },
    },
    figures: [
      {
        kind: 'gradient',
        nodes: [input.node],
        params: { model: p.model, degree: p.degree, smoothing: p.smoothing, samples: p.samples },
      },
    ],
    planes: input.planes,
    extent: input.extent,
  }),
});
