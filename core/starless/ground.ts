import { middleOf } from '../stats/middle';
import type { Disc } from './disc';

/** What a star stands on: a plane through the ring about it. */
export interface Ground {
  readonly level: number;
  readonly along: number;
  readonly up: number;
  /** How the ring scatters about that plane; never less than the noise. */
  readonly scatter: number;
}

/** Pixels of a ring, at most, that tell its plane. */
const ASKED = 240;
const CLIP = 2.5;
const ROUNDS = 3;

/**
 * The plane through the pixels of a disc that lie beyond a distance, neighbours' light left out.
 * @returns undefined where there are too few of them
 */
export function groundOf({ count, dx, dy, r, v }: Disc, from: number, noise: number): Ground | undefined {
  let there = 0;
  for (let i = 0; i < count; i++) if (r[i] > from) there++;
  if (there < 8) return undefined;
  const every = Math.max(1, Math.floor(there / ASKED));
  const seen: number[] = [];
  for (let i = 0, met = 0; i < count; i++) if (r[i] > from && met++ % every === 0) seen.push(i);
  let level = middleOf(seen.map((i) => v[i]));
  let [along, up] = [0, 0];
  let scatter = noise;
  for (let round = 0; round < ROUNDS; round++) {
    const off = seen.map((i) => v[i] - level - along * dx[i] - up * dy[i]);
    const middle = middleOf(off);
    scatter = Math.max(noise, 1.4826 * middleOf(off.map((d) => Math.abs(d - middle))));
    level += middle;
    // Slopes of what is near the plane, about the middle of the ring, where both axes are all but square to each other.
    let [n, sx, sy, sv, xx, yy, xv, yv] = [0, 0, 0, 0, 0, 0, 0, 0];
    for (const [k, i] of seen.entries()) {
      const d = off[k] - middle;
      if (Math.abs(d) > CLIP * scatter) continue;
      n++;
      sx += dx[i];
      sy += dy[i];
      sv += d;
    }
    for (const [k, i] of seen.entries()) {
      const d = off[k] - middle;
      if (Math.abs(d) > CLIP * scatter) continue;
      const [a, b, c] = [dx[i] - sx / n, dy[i] - sy / n, d - sv / n];
      xx += a * a;
      yy += b * b;
      xv += a * c;
      yv += b * c;
    }
    if (n < 8) break;
    along += xx > 0 ? xv / xx : 0;
    up += yy > 0 ? yv / yy : 0;
  }
  return { level, along, up, scatter };
}

/** A pixel of a disc less the ground. */
export const aboveGround = ({ dx, dy, v }: Disc, i: number, { level, along, up }: Ground): number =>
  v[i] - level - along * dx[i] - up * dy[i];
