import { z } from 'zod';
import type { Apply } from '../engine/kernel';
import { stepKind } from '../engine/step-kind';
import { saidOf, starlessFigure, starlessImage, starsPlace, starTaking } from './star-taking';

const difference: Apply = ([without, whole], out) =>
  out.planes.forEach((to, p) => {
    const [a, b] = [whole.planes[p], without.planes[p]];
    for (let i = 0; i < to.length; i++) to[i] = a[i] - b[i];
  });

/** What screened onto the image without stars gives the image: `1 − (1 − x)/(1 − y)`; where nothing is left to screen onto, none. */
const screened: Apply = ([without, whole], out) =>
  out.planes.forEach((to, p) => {
    const [a, b] = [whole.planes[p], without.planes[p]];
    for (let i = 0; i < to.length; i++) to[i] = b[i] >= 1 ? 0 : (a[i] - b[i]) / (1 - b[i]);
  });

/** What {@link starless} takes out: added, or screened, onto what it leaves it gives the image back. */
export const starsOnly = stepKind({
  do: 'stars-only',
  name: 'stars only',
  says: 'Keeps the stars and nothing else.',
  watch: {
    for: 'Stars on black, with their halos.',
    tooMuch: 'Patches of gas among them: lower the sensitivity.',
  },
  group: 'stars',
  words: ['star layer', 'extract stars', 'star mask'],
  version: 2,
  params: z.strictObject({ by: z.enum(['difference', 'screen']).default('difference'), ...starTaking }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  kept: true,
  build: ({ by, ...taking }, where) => {
    const place = starsPlace(where);
    const { input } = place;
    const without = starlessImage(place, taking);
    return {
      kernel: {
        bind: () => (by === 'screen' ? screened : difference),
        describe: saidOf,
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
