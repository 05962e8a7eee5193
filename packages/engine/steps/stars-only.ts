import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { implementStep } from './step-implementation';
import { starRemovalReport, starlessFigure, starlessImage, withLinearAncestor } from './star-removal';
import { starsOnly as spec } from '@owl-loom/recipe/steps/stars-only';

const difference: PixelFunction = ([without, whole], out) =>
  out.planes.forEach((to, p) => {
    const [a, b] = [whole.planes[p], without.planes[p]];
    for (let i = 0; i < to.length; i++) to[i] = a[i] - b[i];
  });

/** What screened onto the image without stars gives the image: `1 − (1 − x)/(1 − y)`; where nothing is left to screen onto, none. */
const screened: PixelFunction = ([without, whole], out) =>
  out.planes.forEach((to, p) => {
    const [a, b] = [whole.planes[p], without.planes[p]];
    for (let i = 0; i < to.length; i++) to[i] = b[i] >= 1 ? 0 : (a[i] - b[i]) / (1 - b[i]);
  });

/** What {@link starRemovalKind} takes out: added, or screened, onto what it leaves it gives the image back. */
export const starsOnlyStep = implementStep(spec, {
  version: 2,
  build: ({ by, ...taking }, where) => {
    const place = withLinearAncestor(where);
    const { input } = place;
    const without = starlessImage(place, taking);
    return {
      kernel: {
        prepare: () => (by === 'screen' ? screened : difference),
        report: starRemovalReport,
      },
      from: without.node,
      reads: [input.node],
      figures: taking.partner === undefined ? [starlessFigure(place, taking)] : [],
      planes: input.planes,
      extent: input.extent,
      // Screened ones hold another share of each star, and come from what is stretched already.
      starsAlone: by === 'difference' && input.domain === 'linear',
    };
  },
});
