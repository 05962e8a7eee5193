import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { asItIs, saidOf, starlessFigure, starlessImage, starsPlace, starTaking } from './star-taking';

/**
 * Takes the stars out and closes the gaps: each star's light is taken off as its field's profile or its own rings tell it (core/starless), and
 * where too little of the image is left under it the gap is filled from around (core/mend). Of an image that was stretched here the stars
 * are taken before the stretch, which then is the same as it was.
 */
export const starless = stepKind({
  do: 'starless',
  name: 'starless',
  says: 'Takes the stars out and closes the gaps.',
  watch: {
    for: 'Nothing of stars is left, and gas runs on where they were.',
    tooMuch: 'Knots of gas and galaxies go with the stars: spare them, or lower the sensitivity.',
  },
  group: 'stars',
  words: ['remove stars', 'star removal', 'without stars', 'nebula only'],
  version: 2,
  params: z.strictObject(starTaking),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  kept: true,
  build: (taking, where) => {
    const place = starsPlace(where);
    const { planes, extent } = place.input;
    return {
      kernel: { bind: () => asItIs, describe: saidOf },
      from: starlessImage(place, taking).node,
      figures: taking.partner === undefined ? [starlessFigure(place, taking)] : [],
      planes,
      extent,
      removesStars: true,
    };
  },
});
