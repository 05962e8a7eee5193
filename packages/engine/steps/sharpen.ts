import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import { weightedSum } from '@owl-loom/image/kernels/weighted-sum';
import { leastMargin, erodeDisc } from '@owl-loom/algorithms/mask/erode';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { gaussian, gaussianMargin } from '@owl-loom/image/scales/gaussian';
import { implementStep } from './step-implementation';
import { sharpen as spec } from '@owl-loom/recipe/steps/sharpen';

/** σ around a pixel within which its least neighbour is looked for. */
const AROUND = 3;

/** How a plane is sharpened on a level: σ in the level's pixels. */
interface Sharpening {
  readonly sigma: number;
  readonly amount: number;
  readonly halo: number;
}

/**
 * `x + amount·(x − blurred x)`, dark rings held back.
 * @param rect where the plane's pixels lie
 */
function sharpened(plane: Float32Array, rect: Rect, window: Rect, { sigma, amount, halo }: Sharpening): Float32Array {
  const own = cropPlane(plane, rect, window);
  const out = new Float32Array(own.length);
  weightedSum([own, gaussian(plane, rect, sigma, window)], [1 + amount, -amount], 0, out);
  if (halo === 0) return out;
  const min = erodeDisc(plane, rect, AROUND * sigma, window);
  for (let i = 0; i < out.length; i++) if (out[i] < min[i]) out[i] += halo * (min[i] - out[i]);
  return out;
}

/** Unsharp masking by a Gaussian; of a colour image its luminance, or each plane. */
export const sharpenStep = implementStep(spec, {
  version: 1,
  build: ({ radius, amount, halo, on }, { input }) => {
    const at = (level: number): Sharpening => ({ sigma: radius / 2 ** level, amount, halo });
    return {
      kernel: {
        inputRoi: (rect, level) => {
          const { sigma } = at(level);
          const m = Math.max(gaussianMargin(sigma), halo > 0 ? leastMargin(AROUND * sigma) : 0);
          const around = { x: rect.x - m, y: rect.y - m, width: rect.width + 2 * m, height: rect.height + 2 * m };
          return intersect(around, rectAtLevel(input.extent, level));
        },
        prepare: (_, level) => {
          const how = at(level);
          return ([{ planes, rect }], out) => {
            if (planes.length === 1 || on === 'planes') {
              out.planes.forEach((to, p) => to.set(sharpened(planes[p], rect, out.rect, how)));
              return;
            }
            const luminance = new Float32Array(planes[0].length);
            weightedSum(planes, LUMINANCE, 0, luminance);
            const after = sharpened(luminance, rect, out.rect, how);
            const before = cropPlane(luminance, rect, out.rect);
            out.planes.forEach(
              (to, p) => void weightedSum([cropPlane(planes[p], rect, out.rect), after, before], [1, 1, -1], 0, to),
            );
          };
        },
      },
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
