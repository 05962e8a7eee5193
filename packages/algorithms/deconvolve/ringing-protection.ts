import { erodeDisc } from '../mask/erode';
import { smoothstep } from '@owl-loom/image/math/smoothstep';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Star } from '../stars/detect';

/** Full widths about a star within which no ring may be left, and by how many noises what lies there may be darker than around. */
const ABOUT = 2.2;
const DARKER = 1;
/** Stars whose tops stand so many noises above the sky throw rings that one sees. */
const CLEAR = 15;
/** Full widths about a star within which its light is kept, and how many times what its core gains may be raised for that. */
const LIGHT = 3;
const MOST = 1.5;
/** Full widths about a star that was cut off in which nothing is changed, and over which that ends. */
const CUT = { inner: 2.5, outer: 4 } as const;

/** Pixels beyond a star's middle that it is guarded. */
export const guardMargin = (fwhm: number): number => Math.ceil((CUT.outer + ABOUT) * fwhm) + 2;

/** What stars are guarded in: where they lie, how wide they are, and the noise of each pixel. */
export interface RingingContext {
  readonly width: number;
  readonly height: number;
  /** In the plane's own pixels. */
  readonly stars: readonly Pick<Star, 'x' | 'y' | 'peak' | 'saturated'>[];
  readonly fwhm: number;
  readonly noise: Float32Array;
}

/** Calls for each pixel not further than so far from a place. */
function within(
  { width, height }: Pick<RingingContext, 'width' | 'height'>,
  { x, y }: { readonly x: number; readonly y: number },
  far: number,
  deed: (at: number, r: number) => void,
): void {
  for (let j = Math.max(0, Math.ceil(y - far)); j <= Math.min(height - 1, y + far); j++)
    for (let i = Math.max(0, Math.ceil(x - far)); i <= Math.min(width - 1, x + far); i++) {
      const r = Math.hypot(i - x, j - y);
      if (r <= far) deed(j * width + i, r);
    }
}

/** The stars that are guarded: those that stand clear of the noise where they are, or were cut off. */
const clearOnes = ({ stars, noise, width, height }: RingingContext) =>
  stars.filter(({ x, y, peak, saturated }) => {
    if (saturated) return true;
    const [i, j] = [Math.min(width - 1, Math.max(0, Math.round(x))), Math.min(height - 1, Math.max(0, Math.round(y)))];
    return peak > CLEAR * noise[j * width + i];
  });

/** 1 where a pixel has data and no guarded star's light is kept, else 0. */
export function unprotectedMask(plane: Float32Array, guarded: RingingContext): Float32Array {
  const out = plane.map((v) => (v === v ? 1 : 0));
  for (const star of clearOnes(guarded))
    within(guarded, star, (star.saturated ? CUT.outer : LIGHT) * guarded.fwhm, (at) => {
      out[at] = 0;
    });
  return out;
}

/**
 * Keeps rings away from stars, and their light what it was: about each nothing gets darker than the least that lies around, as the smoothed
 * image shows it, or than it was, and what that takes is taken from what its core has gained. Stars that were cut off stay as they were:
 * their tops tell nothing.
 * @param sharp what is guarded, in place
 * @param smoothed the image smoothed by the stars' profile
 */
export function suppressRinging(
  sharp: Float32Array,
  plane: Float32Array,
  smoothed: Float32Array,
  guarded: RingingContext,
): void {
  const { width, height, fwhm, noise } = guarded;
  const whole: Rect = { x: 0, y: 0, width, height };
  const min = erodeDisc(smoothed, whole, ABOUT * fwhm, whole);
  for (const star of clearOnes(guarded)) {
    if (star.saturated) {
      const [inner, outer] = [CUT.inner * fwhm, CUT.outer * fwhm];
      within(guarded, star, outer, (at, r) => {
        sharp[at] += smoothstep((outer - r) / (outer - inner)) * (plane[at] - sharp[at]);
      });
      continue;
    }
    within(guarded, star, ABOUT * fwhm, (at) => {
      const floor = Math.min(plane[at], min[at] - DARKER * noise[at]);
      if (sharp[at] < floor) sharp[at] = floor;
    });
    let [made, gained] = [0, 0];
    within(guarded, star, LIGHT * fwhm, (at) => {
      const more = sharp[at] - plane[at];
      if (more !== more) return;
      made += more;
      gained += Math.max(0, more);
    });
    const kept = gained > 0 ? Math.min(MOST, Math.max(0, 1 - made / gained)) : 1;
    within(guarded, star, LIGHT * fwhm, (at) => {
      const more = sharp[at] - plane[at];
      if (more > 0) sharp[at] = plane[at] + kept * more;
    });
  }
}
