import { z } from 'zod';
import { defineStep } from './step-kind';
import {
  copyPixels,
  starRemovalReport,
  starlessFigure,
  starlessImage,
  withLinearAncestor,
  starRemovalParams,
} from './star-removal';

/**
 * Takes the stars out and closes the gaps: each star's light is taken off as its field's profile or its own rings tell it (packages/algorithms/star-removal), and
 * where too little of the image is left under it the gap is filled from around (packages/algorithms/inpaint). Of an image that was stretched here the stars
 * are taken before the stretch, which then is the same as it was.
 */
export const starless = defineStep({
  do: 'starless',
  name: 'starless',
  summary: 'Takes the stars out and closes the gaps.',
  hints: {
    for: 'Nothing of stars is left, and gas runs on where they were.',
    tooMuch: 'Knots of gas and galaxies go with the stars: spare them, or lower the sensitivity.',
  },
  group: 'stars',
  searchTerms: ['remove stars', 'star removal', 'without stars', 'nebula only'],
  version: 2,
  params: z.strictObject(starRemovalParams),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  cacheResult: true,
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
