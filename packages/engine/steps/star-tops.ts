import { z } from 'zod';
import { defineStep } from './step-kind';
import { expectKind } from '../measurements/index';
import { forEachStarPixel } from '#algorithms/star-removal/add-star';
import { type ClippedStar, missingLight } from '#algorithms/star-removal/clipped-stars';

/** Places of a pixel's side, at most, at which a star's light is taken where a pixel spans many of full size. */
const PARTS = 4;

/** Gives stars that were cut off their tops back, by the wings that were not: so that their colour is that of their wings in any mix. */
export const starTops = defineStep({
  do: 'star-tops',
  name: 'star tops',
  summary: 'Gives cut-off stars their tops back, as their wings tell them.',
  hints: {
    for: 'Bright stars have their colour up to the middle where the stretch is by hue, and no coloured rims.',
    tooMuch: 'What was never recorded is told by the wings: do not measure it.',
  },
  group: 'stars',
  searchTerms: [
    'star colour',
    'saturated stars',
    'burnt out',
    'white cores',
    'magenta rims',
    'clipped stars',
    'repair',
  ],
  version: 1,
  params: z.strictObject({}),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  needsStars: true,
  build: (_, { input }) => ({
    kernel: {
      prepare: ([figure], level) => {
        const { planes } = expectKind('tops', figure);
        const parts = Math.min(PARTS, 2 ** level);
        return ([image], { rect, planes: out }) =>
          out.forEach((to, p) => {
            to.set(image.planes[p]);
            const { stars, table } = planes[p % planes.length];
            for (const star of stars)
              forEachStarPixel(rect, level, star, star.reach, parts, missingLight(star, table), (at, mean) => {
                to[at] += mean;
              });
          });
      },
      report: ([figure]) =>
        toldOf(expectKind('tops', figure).planes.map(({ stars, table }) => ({ stars, top: table[0] }))),
    },
    figures: [{ kind: 'tops', nodes: [input.node] }],
    planes: input.planes,
    extent: input.extent,
  }),
});

/** How many stars of each plane were cut off, and how far the brightest of them stood above that, as a multiple; 1 where there are none. */
function toldOf(planes: readonly { readonly stars: readonly ClippedStar[]; readonly top: number }[]): {
  stars: number[];
  brightest: number;
} {
  const times = planes.flatMap(({ stars, top }) => stars.map(({ height, cut }) => (height * top) / cut));
  return { stars: planes.map(({ stars }) => stars.length), brightest: Math.max(1, ...times) };
}
