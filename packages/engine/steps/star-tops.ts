import { implementStep } from './step-implementation';
import { expectKind } from '../measurements/index';
import { forEachStarPixel } from '@owl-loom/algorithms/star-removal/add-star';
import { type ClippedStar, missingLight } from '@owl-loom/algorithms/star-removal/clipped-stars';
import { starTops as spec } from '@owl-loom/recipe/steps/star-tops';

/** Places of a pixel's side, at most, at which a star's light is taken where a pixel spans many of full size. */
const PARTS = 4;

/** Gives stars that were cut off their tops back, by the wings that were not: so that their colour is that of their wings in any mix. */
export const starTopsStep = implementStep(spec, {
  version: 1,
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
