import type { Measurement } from '../measurements/index';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { gaussian, gaussianMargin } from '@owl-loom/image/scales/gaussian';
import type { NodeKernel } from '../node-kernel';

/** Work of one plane: from where its pixels lie to the window that is wanted. */
export type PlaneFilter = (plane: Float32Array, rect: Rect, window: Rect, p: number) => Float32Array;

/**
 * A kernel that looks at the pixels around each one.
 * @param extent where the input can have data, full size
 * @param margin pixels of the level that the work needs around a window
 * @param bind the work at a level, with the measured measurements in it
 */
export function neighbourhoodKernel(
  extent: Rect,
  margin: (level: number, figures: readonly Measurement[]) => number,
  bind: (figures: readonly Measurement[], level: number) => PlaneFilter,
): NodeKernel {
  return {
    inputRoi: (rect, level, _input, figures) => {
      const m = margin(level, figures);
      const grown = { x: rect.x - m, y: rect.y - m, width: rect.width + 2 * m, height: rect.height + 2 * m };
      // Beyond the data there is nothing to see: asking for it would make a border of no data that costs time.
      return intersect(grown, rectAtLevel(extent, level));
    },
    prepare: (figures, level) => {
      const work = bind(figures, level);
      return ([input], out) => out.planes.forEach((to, p) => to.set(work(input.planes[p], input.rect, out.rect, p)));
    },
  };
}

/**
 * A kernel that smooths by a Gaussian.
 * @param sigma in full-size pixels, which may depend on measurements
 * @param then what is made of the smoothed window and the window as it was; the smoothed one itself where nothing is given
 */
export function gaussianKernel(
  extent: Rect,
  sigma: (figures: readonly Measurement[]) => number,
  then?: (soft: Float32Array, own: Float32Array) => Float32Array,
): NodeKernel {
  const at = (figures: readonly Measurement[], level: number) => sigma(figures) / 2 ** level;
  return neighbourhoodKernel(
    extent,
    (level, figures) => gaussianMargin(at(figures, level)),
    (figures, level) => (plane, rect, window) => {
      const soft = gaussian(plane, rect, at(figures, level), window);
      return then ? then(soft, cropPlane(plane, rect, window)) : soft;
    },
  );
}
