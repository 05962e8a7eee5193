import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { shrunkStars } from '../starless/shrink';
import type { Apply } from '../engine/kernel';
import type { Figure } from '../figures/index';
import { asItIs, lookedAt, PLAINLY, starlessFigure, starlessImage, starsPlace, takenOf } from './star-taking';

/** How much narrower a star is at an amount of 1. */
const NARROWEST = 2.5;
/** Up to this amount it passes over from the image as it is. */
const BEGINS = 0.1;

/**
 * Makes stars smaller: the image without stars, and each star drawn in towards its middle, its top all but as it was. What lies under them is untouched.
 */
export const starShrink = stepKind({
  do: 'star-shrink',
  name: 'smaller stars',
  says: 'Draws stars in towards their middles, what lies under them untouched.',
  watch: {
    for: 'Stars are smaller, and the gas between them shows.',
    tooMuch: 'Hard dots without halos.',
  },
  group: 'stars',
  words: ['reduce stars', 'star reduction', 'smaller stars'],
  version: 2,
  params: z.strictObject({ amount: z.number().min(0).max(1).default(0.5) }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  needsStars: true,
  build: ({ amount }, where) => {
    const place = starsPlace(where);
    const { input, unbent } = place;
    const looked = lookedAt(place);
    // Stars are drawn in before the stretch as well.
    const bare = { ...place, input: looked, unbent: undefined };
    const by = 1 + (NARROWEST - 1) * amount;
    const share = Math.min(1, amount / BEGINS);
    const shrinking = {
      kernel: {
        bind: ([figure]: readonly Figure[], level: number): Apply => {
          const { sorted } = takenOf(figure);
          return ([without, whole], out) => shrunkStars(without, whole, out, sorted, { by, share }, level);
        },
        describe: ([figure]: readonly Figure[]) => ({ stars: takenOf(figure).stars.beams[0].length }),
      },
      figures: [starlessFigure(bare, PLAINLY)],
      planes: looked.planes,
      extent: looked.extent,
    };
    const without = starlessImage(bare, PLAINLY);
    if (!unbent) return { ...shrinking, from: without.node, reads: [looked.node] };
    const { domain } = looked;
    const inputs = [without.node, looked.node];
    const shrunk = place.derive({ ...shrinking, kind: 'shrunk', inputs, domain, params: amount, version: 1 });
    const { planes, extent } = input;
    const kernel = { bind: () => asItIs, describe: shrinking.kernel.describe };
    return { kernel, figures: shrinking.figures, from: unbent.bend(shrunk).node, planes, extent };
  },
});
