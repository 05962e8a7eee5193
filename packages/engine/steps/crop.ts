import { z } from 'zod';
import { toFullSize } from '#image/raster/pyramid';
import { intersect } from '#image/geometry/rect';
import { defineStep } from './step-kind';

/** Leaves data only inside a rectangle of frame pixels; the origin stays where it is. */
export const crop = defineStep({
  do: 'crop',
  name: 'crop',
  summary: 'Keeps data only inside a rectangle.',
  hints: {
    for: 'Ragged edges lie outside, and all that you want to show inside.',
    tooMuch: 'What is cut is missing in everything that reads this strand.',
  },
  group: 'place',
  searchTerms: ['trim', 'cut', 'edges', 'ragged'],
  version: 1,
  params: z.strictObject({ x: z.number(), y: z.number(), width: z.number().positive(), height: z.number().positive() }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: ({ frame: { x, y, width, height } }) => ({
    x: Math.round(x + 0.05 * width),
    y: Math.round(y + 0.05 * height),
    width: Math.round(0.9 * width),
    height: Math.round(0.9 * height),
  }),
  build: (p, { input }) => {
    // A pixel belongs to the rectangle where its centre does.
    const x0 = Math.ceil(p.x);
    const y0 = Math.ceil(p.y);
    const inside = { x: x0, y: y0, width: Math.ceil(p.x + p.width) - x0, height: Math.ceil(p.y + p.height) - y0 };
    return {
      kernel: {
        prepare: (_, level) => (inputs, out) => {
          const { rect } = out;
          const within = (at: number, from: number, length: number) => {
            const full = toFullSize(at, level);
            return full >= from - 0.5 && full < from + length - 0.5;
          };
          for (let q = 0; q < out.planes.length; q++) {
            const from = inputs[0].planes[q];
            const to = out.planes[q];
            for (let r = 0; r < rect.height; r++) {
              const row = within(rect.y + r, inside.y, inside.height);
              for (let c = 0; c < rect.width; c++) {
                const i = r * rect.width + c;
                to[i] = row && within(rect.x + c, inside.x, inside.width) ? from[i] : Number.NaN;
              }
            }
          }
        },
      },
      figures: [],
      planes: input.planes,
      extent: intersect(input.extent, inside),
    };
  },
});
