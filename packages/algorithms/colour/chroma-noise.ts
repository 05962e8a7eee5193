import type { Raster } from '@owl-loom/image/raster/raster';
import { intersect, isEmpty, type Rect } from '@owl-loom/image/geometry/rect';
import { medianOfList } from '@owl-loom/image/stats/median';
import { skyPixels } from '@owl-loom/image/stats/sky-pixels';
import { LUMINANCE } from './luminance';
import { linearToOklab } from './oklch';
import { srgbToLinear } from './srgb';

/** Pixels that are looked at, at most. */
const MAX_PIXELS = 250_000;
/** Median of a Rayleigh distribution over its σ. */
const RAYLEIGH = 1.1774;
/** Pixels within so many σ of the sky's luminance are sky. */
const MAX_SIGMAS = 2;

/**
 * Noise of the colours of the sky: σ of OKLab's a and b about grey, told by the median chroma, so that a cast of the sky counts as noise as
 * well.
 * @param image red, green and blue, coded by sRGB
 * @param region the true sky; where none is given, pixels whose luminance lies about the sky's
 * @returns 0 where there is no sky to tell by
 */
export function chromaNoiseOf({ planes, rect }: Raster, region?: Rect): number {
  const place = region ? intersect(region, rect) : rect;
  const window = isEmpty(place) ? rect : place;
  const step = Math.max(1, Math.ceil(Math.sqrt((window.width * window.height) / MAX_PIXELS)));
  const at: number[] = [];
  const light: number[] = [];
  for (let y = window.y - rect.y; y < window.y - rect.y + window.height; y += step)
    for (let x = window.x - rect.x; x < window.x - rect.x + window.width; x += step) {
      const i = y * rect.width + x;
      const value = LUMINANCE.reduce((sum, weight, p) => sum + weight * planes[p][i], 0);
      if (value !== value) continue;
      at.push(i);
      light.push(value);
    }
  if (at.length === 0) return 0;
  const chromas = (region ? at : skyPixels(at, light, MAX_SIGMAS)).map((i) => {
    const [, a, b] = linearToOklab([
      srgbToLinear(planes[0][i]),
      srgbToLinear(planes[1][i]),
      srgbToLinear(planes[2][i]),
    ]);
    return Math.hypot(a, b);
  });
  return chromas.length > 0 ? medianOfList(chromas) / RAYLEIGH : 0;
}
