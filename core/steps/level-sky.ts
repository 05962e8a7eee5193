import { z } from 'zod';
import { asTone, figureOf } from '../figures/index';
import { rectangle, spread } from '../recipe/parts';
import { stepKind } from '../engine/step-kind';
import { linesKernel } from '../engine/lines';

/**
 * Shifts each plane so that its sky lies at one level: `level` where given, else the mean of the planes' skies.
 * `hold: { sky }` pins the skies, one number or one a plane.
 */
export const levelSky = stepKind({
  do: 'level-sky',
  name: 'level sky',
  says: 'Shifts the sky of each plane to one level.',
  watch: {
    for: 'The sky of all planes has one number, so that it is grey.',
    tooMuch: 'A region with gas in it tints the sky the other way.',
  },
  group: 'sky',
  words: ['neutral background', 'neutral sky', 'black point', 'colour cast'],
  version: 2,
  params: z.strictObject({ region: rectangle.optional(), level: z.number().optional() }),
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  holds: ['sky'],
  build: (p, { input, sky, hold }) => {
    const held = hold?.sky;
    const pinned = typeof held === 'number' || Array.isArray(held) ? spread(held, input.planes) : undefined;
    const figuresOf = (skies: number[]) => {
      const level = p.level ?? skies.reduce((sum, s) => sum + s, 0) / skies.length;
      return { sky: skies, level };
    };
    const region = p.region ?? sky;
    // Where no place is given, all planes are told from the same pixels.
    const joint = !pinned && input.planes === 3 && region === undefined;
    const skiesFrom = ([figure]: Parameters<typeof asTone>[0][]): number[] =>
      pinned ?? (joint ? [...figureOf('sky-levels', figure).skies] : asTone(figure).map((t) => t.sky));
    return {
      kernel: linesKernel(
        (figures) => {
          const { sky: skies, level } = figuresOf(skiesFrom([...figures]));
          return { a: skies.map((s) => level - s), b: [1] };
        },
        (figures) => figuresOf(skiesFrom([...figures])),
      ),
      figures: pinned
        ? []
        : [joint ? { kind: 'sky-levels', nodes: [input.node] } : { kind: 'tone', nodes: [input.node], region }],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
