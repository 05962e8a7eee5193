import { gaussianTaps, smooth } from '../kernels/smooth';
import { cropPlane } from '../raster/raster';
import type { Rect } from '../geometry/rect';
import { maskedDifference, validityMask } from '../kernels/validity';
import { upsample } from '../kernels/cells';
import { splat } from '../kernels/splat';

/** From this σ on a Gaussian is taken on a coarse grid: it costs little there and looks the same. */
const WIDE = 8;

/** Cells of the coarse grid for a σ, in pixels; 1 where the pixels themselves serve. */
const cellFor = (sigma: number): number => (sigma > WIDE ? 2 ** Math.floor(Math.log2(sigma / 4)) : 1);

/** Pixels needed around a window. */
export const gaussianMargin = (sigma: number): number => (sigma < 0.05 ? 0 : Math.ceil(4 * sigma) + 6 * cellFor(sigma));

/**
 * A plane smoothed by a Gaussian, no data counting as absent and staying where it was.
 * @param rect where the plane lies
 * @param sigma in the plane's pixels
 * @param window what is wanted; the plane should reach {@link gaussianMargin} beyond it, or to the end of the data
 */
export function gaussian(plane: Float32Array, rect: Rect, sigma: number, window: Rect): Float32Array {
  const own = cropPlane(plane, rect, window);
  if (sigma < 0.05) return own.slice();
  const n = cellFor(sigma);
  const smoothed =
    n === 1
      ? cropPlane(smooth(plane, rect.width, rect.height, gaussianTaps(sigma), 1, validityMask(plane)), rect, window)
      : onCells(plane, rect, sigma, n, window);
  return maskedDifference(smoothed, undefined, own, smoothed);
}

function onCells(plane: Float32Array, rect: Rect, sigma: number, n: number, window: Rect): Float32Array {
  const coarse = splat(plane, rect, n);
  // Being spread over the cells has smoothed a little already.
  const taps = gaussianTaps(Math.sqrt(sigma ** 2 - (n * n) / 4) / n);
  const { width, height } = coarse.rect;
  const values = smooth(coarse.values, width, height, taps, 1);
  const weights = smooth(coarse.weights, width, height, taps, 1);
  for (let i = 0; i < values.length; i++) values[i] = weights[i] > 0 ? values[i] / weights[i] : 0;
  return upsample({ n, rect: coarse.rect, values }, window);
}
