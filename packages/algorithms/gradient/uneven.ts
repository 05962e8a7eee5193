import { UserError } from '@owl-loom/base/errors';
import type { Raster } from '@owl-loom/image/raster/raster';
import { measureGradient } from './gradient';
import { modelAt } from './model';

/** A sky that rises and falls by less than this many times the noise of a pixel is even enough for the eye. */
const EVEN = 1;

/** Shares of a side, a little within the frame's edge, where a polynomial is not held by samples. */
const ALONG = [0.05, 0.25, 0.5, 0.75, 0.95];

/**
 * Whether an image's sky is uneven enough to be seen once it is stretched: a surface of degree 2 through its quiet boxes says so. Not so
 * where there is no sky to judge it by.
 * @param image a level of it, however coarse
 * @param noise of each plane at full size
 */
export function hasVisibleGradient(image: Raster, noise: readonly number[]): boolean {
  const { x, y, width, height } = image.rect;
  const places = ALONG.flatMap((v) => ALONG.map((u) => [x + u * width, y + v * height] as const));
  try {
    const { planes } = measureGradient(image, { model: 'polynomial', degree: 2, smoothing: 1, samples: 'auto' });
    return planes.some(({ model }, p) => {
      const heights = places.map(([px, py]) => modelAt(model, px, py));
      return Math.max(...heights) - Math.min(...heights) > EVEN * noise[p];
    });
  } catch (error) {
    if (error instanceof UserError) return false;
    throw error;
  }
}
