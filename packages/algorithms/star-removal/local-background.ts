import { medianInPlace, medianMadInPlace } from '@owl-loom/image/stats/quickselect';
import type { Disc } from './disc';

/** What a star stands on: a plane through the ring about it. */
export interface LocalBackground {
  readonly level: number;
  readonly slopeX: number;
  readonly slopeY: number;
  /** How the ring scatters about that plane; never less than the noise. */
  readonly scatter: number;
  /** The noise of its pixels, as neighbours tell it: in a stretched image it is another one wherever the light is. */
  readonly noise: number;
}

/** Pixels of a ring, at most, that tell its plane. */
const ASKED = 200;
const CLIP = 2.5;
const ROUNDS = 3;

const seen = new Int32Array(ASKED);
const scratch = new Float32Array(ASKED);
const off = new Float64Array(ASKED);

/**
 * The plane through the pixels of a disc's outer ring, neighbours' light left out.
 * @returns undefined where there are too few of them
 */
export function fitLocalBackground(disc: Disc, noise: number): LocalBackground | undefined {
  const { rimCount, rim, dx, dy, v } = disc;
  if (rimCount < 8) return undefined;
  const every = Math.ceil(rimCount / ASKED);
  let n = 0;
  for (let k = 0; k < rimCount; k += every) seen[n++] = rim[k];
  for (let k = 0; k < n; k++) scratch[k] = v[seen[k]];
  let level = medianInPlace(scratch.subarray(0, n));
  let [along, up] = [0, 0];
  let scatter = noise;
  for (let round = 0; round < ROUNDS; round++) {
    for (let k = 0; k < n; k++) {
      const i = seen[k];
      off[k] = v[i] - level - along * dx[i] - up * dy[i];
      scratch[k] = off[k];
    }
    const { middle, sigma } = medianMadInPlace(scratch.subarray(0, n));
    scatter = Math.max(noise, sigma);
    level += middle;
    // Slopes of what is near the plane, about the middle of the ring, where both axes are all but square to each other.
    let [m, sx, sy, sv, sxx, syy, sxv, syv] = [0, 0, 0, 0, 0, 0, 0, 0];
    for (let k = 0; k < n; k++) {
      const d = off[k] - middle;
      if (Math.abs(d) > CLIP * scatter) continue;
      const [a, b] = [dx[seen[k]], dy[seen[k]]];
      m++;
      sx += a;
      sy += b;
      sv += d;
      sxx += a * a;
      syy += b * b;
      sxv += a * d;
      syv += b * d;
    }
    if (m < 8) break;
    const [xx, yy] = [sxx - (sx * sx) / m, syy - (sy * sy) / m];
    if (xx > 0) along += (sxv - (sx * sv) / m) / xx;
    if (yy > 0) up += (syv - (sy * sv) / m) / yy;
  }
  return { level, slopeX: along, slopeY: up, scatter, noise: noiseOf(disc, noise) };
}

/** Noise from the differences of pixels beside each other in the outer ring; never less than what is given. */
function noiseOf({ rimCount, rim, dx, dy, v }: Disc, noise: number): number {
  let n = 0;
  for (let k = 1; k < rimCount && n < scratch.length; k++) {
    const i = rim[k];
    if (rim[k - 1] === i - 1 && dy[i] === dy[i - 1] && dx[i] - dx[i - 1] < 1.5)
      scratch[n++] = Math.abs(v[i] - v[i - 1]);
  }
  return n < 12 ? noise : Math.max(noise, (1.4826 / Math.SQRT2) * medianInPlace(scratch.subarray(0, n)));
}

/** A pixel of a disc less the ground. */
export const aboveBackground = (
  { dx, dy, v }: Disc,
  i: number,
  { level, slopeX: along, slopeY: up }: Pick<LocalBackground, 'level' | 'slopeX' | 'slopeY'>,
): number => v[i] - level - along * dx[i] - up * dy[i];
