import { implementStep } from './step-implementation';
import { drawShrunkStars } from '@owl-loom/algorithms/star-removal/shrink';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import type { Measurement } from '../measurements/index';
import { DEFAULT_STAR_REMOVAL } from '@owl-loom/recipe/steps/star-removal';
import {
  copyPixels,
  detectionImage,
  starlessFigure,
  starlessImage,
  withLinearAncestor,
  removedStarsOf,
} from './star-removal';
import { starShrink as spec } from '@owl-loom/recipe/steps/star-shrink';

/** How much narrower a star is at an amount of 1. */
const NARROWEST = 2.5;

/** Up to this amount it passes over from the image as it is. */
const BEGINS = 0.1;

/**
 * Makes stars smaller: the image without stars, and each star drawn in towards its middle, its top all but as it was. What lies under them is untouched.
 */
export const starShrinkStep = implementStep(spec, {
  version: 2,
  build: ({ amount }, where) => {
    const place = withLinearAncestor(where);
    const { input, linearAncestor: unbent } = place;
    const looked = detectionImage(place);
    // Stars are drawn in before the stretch as well.
    const bare = { ...place, input: looked, linearAncestor: undefined };
    const by = 1 + (NARROWEST - 1) * amount;
    const share = Math.min(1, amount / BEGINS);
    const shrinking = {
      kernel: {
        prepare: ([figure]: readonly Measurement[], level: number): PixelFunction => {
          const { sorted } = removedStarsOf(figure);
          return ([without, whole], out) => drawShrunkStars(without, whole, out, sorted, { by, share }, level);
        },
        report: ([figure]: readonly Measurement[]) => ({ stars: removedStarsOf(figure).stars.beams[0].length }),
      },
      figures: [starlessFigure(bare, DEFAULT_STAR_REMOVAL)],
      planes: looked.planes,
      extent: looked.extent,
    };
    const without = starlessImage(bare, DEFAULT_STAR_REMOVAL);
    if (!unbent) return { ...shrinking, from: without.node, reads: [looked.node] };
    const { domain } = looked;
    const inputs = [without.node, looked.node];
    const shrunk = place.addIntermediate({ ...shrinking, kind: 'shrunk', inputs, domain, params: amount, version: 1 });
    const { planes, extent } = input;
    const kernel = { prepare: () => copyPixels, report: shrinking.kernel.report };
    return { kernel, figures: shrinking.figures, from: unbent.reapplyStretch(shrunk).node, planes, extent };
  },
});
