import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { figureOf } from '../figures/index';
import { overStar } from '../starless/lay';
import { type CutStar, lackOf } from '../starless/tops';

/** Places of a pixel's side, at most, at which a star's light is taken where a pixel spans many of full size. */
const PARTS = 4;

/** Gives stars that were cut off their tops back, by the wings that were not: so that their colour is that of their wings in any mix. */
export const starTops = stepKind({
  do: 'star-tops',
  name: 'star tops',
  says: 'Gives cut-off stars their tops back, as their wings tell them.',
  watch: {
    for: 'Bright stars have their colour up to the middle where the stretch is by hue, and no coloured rims.',
    tooMuch: 'What was never recorded is told by the wings: do not measure it.',
  },
  group: 'stars',
  words: ['star colour', 'saturated stars', 'burnt out', 'white cores', 'magenta rims', 'clipped stars', 'repair'],
  version: 1,
  params: z.strictObject({}),
  takes: { planes: 'either', domain: 'linear' },
  gives: { domain: 'same' },
  needsStars: true,
  build: (_, { input }) => ({
    kernel: {
      bind: ([figure], level) => {
        const { planes } = figureOf('tops', figure);
        const parts = Math.min(PARTS, 2 ** level);
        return ([image], { rect, planes: out }) =>
          out.forEach((to, p) => {
            to.set(image.planes[p]);
            const { stars, table } = planes[p % planes.length];
            for (const star of stars)
              overStar(rect, level, star, star.reach, parts, lackOf(star, table), (at, mean) => {
                to[at] += mean;
              });
          });
      },
      describe: ([figure]) =>
        toldOf(figureOf('tops', figure).planes.map(({ stars, table }) => ({ stars, top: table[0] }))),
    },
    figures: [{ kind: 'tops', nodes: [input.node] }],
    planes: input.planes,
    extent: input.extent,
  }),
});

/** How many stars of each plane were cut off, and how far the brightest of them stood above that, as a multiple; 1 where there are none. */
function toldOf(planes: readonly { readonly stars: readonly CutStar[]; readonly top: number }[]): {
  stars: number[];
  brightest: number;
} {
  const times = planes.flatMap(({ stars, top }) => stars.map(({ height, cut }) => (height * top) / cut));
  return { stars: planes.map(({ stars }) => stars.length), brightest: Math.max(1, ...times) };
}
