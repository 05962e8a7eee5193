import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { intersect } from '@owl-loom/image/geometry/rect';
import { implementStep } from './step-implementation';
import { crop as spec } from '@owl-loom/recipe/steps/crop';

/** Leaves data only inside a rectangle of frame pixels; the origin stays where it is. */
export const cropStep = implementStep(spec, {
  version: 1,
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
