import { medianOfList } from '@owl-loom/image/stats/median';

/** Pixels this near to a star's top count as part of it, as a share of its height. */
const NEAR = 0.03;
/** Pixels of the 3x3 that a cut-off star has at its top, itself counted; an uncut one has them only where it is wider than eight pixels. */
const FLAT = 5;
/** A star must stand this many times the noise above its surroundings before the shape of its top says anything. */
const CLEAR = 60;

/**
 * True where a star's top is flat: its light went beyond what the camera could hold. Unlike the image's greatest value, this can be told
 * after gradients and skies were taken off, when cut-off stars no longer all end at one number.
 * @param base the level about the star
 */
export function flatTop(
  values: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  base: number,
  noise: number,
): boolean {
  if (x < 1 || y < 1 || x >= width - 1 || y >= height - 1) return false;
  const peak = values[y * width + x] - base;
  if (!(peak > CLEAR * noise)) return false;
  let n = 0;
  for (let j = y - 1; j <= y + 1; j++) {
    for (let i = x - 1; i <= x + 1; i++) if (values[j * width + i] - base >= (1 - NEAR) * peak) n++;
  }
  return n >= FLAT;
}

/** How far below the flat tops a star's own top may have been cut: gradients that were taken off have spread them. */
const SPREAD = 0.93;

/** The value from which tops count as cut off, from the tops that are flat; infinity where there are none. */
export const clippingLevel = (tops: readonly number[]): number =>
  tops.length > 0 ? SPREAD * medianOfList(tops) : Number.POSITIVE_INFINITY;

/** A place in an image. */
interface Place {
  readonly x: number;
  readonly y: number;
}

/**
 * The tops of stars whose places are known from another image, and the value from which such tops count as cut off.
 * @param base the image's level without stars
 * @returns a top is the greatest of the 3x3 about its place, NaN where there is no data
 */
export function peaksAt(
  values: Float32Array,
  width: number,
  height: number,
  stars: readonly Place[],
  base: number,
  noise: number,
): { tops: number[]; ceiling: number } {
  const peaks = stars.map((star) => peakAt(values, width, height, Math.round(star.x), Math.round(star.y)));
  const flat = peaks.filter(({ x, y }) => flatTop(values, width, height, x, y, base, noise));
  return { tops: peaks.map(({ value }) => value), ceiling: clippingLevel(flat.map(({ value }) => value)) };
}

/** The brightest pixel of the 3x3 about a place; NaN where there is none. */
function peakAt(values: Float32Array, width: number, height: number, x: number, y: number): Place & { value: number } {
  let best = { x, y, value: Number.NaN };
  for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++) {
    for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++) {
      const value = values[j * width + i];
      if (!(best.value >= value) && value === value) best = { x: i, y: j, value };
    }
  }
  return best;
}
