import { implementStep } from './step-implementation';
import { copyPixels, starRemovalReport, starlessFigure, starlessImage, withLinearAncestor } from './star-removal';
import { starless as spec } from '@owl-loom/recipe/steps/starless';

/**
 * Takes the stars out and closes the gaps: each star's light is taken off as its field's profile or its own rings tell it (packages/algorithms/star-removal), and
 * where too little of the image is left under it the gap is filled from around (packages/algorithms/inpaint). Of an image that was stretched here the stars
 * are taken before the stretch, which then is the same as it was.
 */
export const starlessStep = implementStep(spec, {
  version: 2,
  build: (taking, where) => {
    const place = withLinearAncestor(where);
    const { planes, extent } = place.input;
    return {
      kernel: { prepare: () => copyPixels, report: starRemovalReport },
      from: starlessImage(place, taking).node,
      figures: taking.partner === undefined ? [starlessFigure(place, taking)] : [],
      planes,
      extent,
      removesStars: true,
    };
  },
});
