import { windowOf } from '../raster/raster';
import { intersect } from '../raster/rect';
import { quantiles } from '../stats/quantile';
import { skyOf } from '../stats/sky';
import { jackknifeError, tileGrid } from './jackknife';
import type { FitInput, Line, PairNoise } from './pairs';

/** A line that brings two distributions to one sky and one spread. */
export interface LevelFit extends Line {
  readonly aError: number;
  readonly bError: number;
}

interface Side {
  readonly sky: number;
  readonly noise: number;
  readonly sums: Float64Array;
  readonly counts: Float64Array;
}

/** The sky of the pixels that count, in the sky region where there is one. */
function skyIn(values: Float32Array, { width, height, sky }: FitInput, mask: Uint8Array): number {
  if (!sky) return skyOf(values, mask).sky;
  const whole = { x: 0, y: 0, width, height };
  const place = intersect(sky, whole);
  const counted = Float32Array.from(windowOf(values, whole, place), (v, k) => {
    const i = (place.y + Math.floor(k / place.width)) * width + place.x + (k % place.width);
    return mask[i] ? v : Number.NaN;
  });
  return skyOf(counted).sky;
}

/** The side's signal about its sky, summed tile by tile. */
function sideOf(values: Float32Array, noise: number, input: FitInput, mask: Uint8Array): Side {
  const { width, height } = input;
  const sky = skyIn(values, input, mask);
  const [top] = quantiles(values, [0.998], { mask });
  const grid = tileGrid(width, height);
  const sums = new Float64Array(grid.count);
  const counts = new Float64Array(grid.count);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const v = values[y * width + x];
      if (!(v <= top) || !mask[y * width + x]) continue;
      const tile = grid.indexOf(x, y);
      sums[tile] += (v - sky) ** 2;
      counts[tile]++;
    }
  }
  return { sky, noise, sums, counts };
}

function spreadWithout(side: Side, left: number): number {
  let sum = 0;
  let n = 0;
  for (let t = 0; t < side.sums.length; t++) {
    if (t === left) continue;
    sum += side.sums[t];
    n += side.counts[t];
  }
  const raw = sum / n;
  return Math.sqrt(Math.max(raw - side.noise ** 2, raw * 1e-6));
}

/**
 * Matches sky and spread: `b` is the ratio of the two signals' root mean squares about their skies (noise taken off, the brightest
 * 0.2 % left out), `a` brings sky onto sky. Right where two filters show different things.
 */
export function fitLevels(input: FitInput, mask: Uint8Array, noise: PairNoise): LevelFit | undefined {
  const x = sideOf(input.target, noise.target, input, mask);
  const y = sideOf(input.reference, noise.reference, input, mask);
  const slope = (left: number) => spreadWithout(y, left) / spreadWithout(x, left);
  const b = slope(-1);
  if (!Number.isFinite(b) || !(b > 0)) return undefined;
  const bError = jackknifeError(Array.from(x.sums, (_, t) => slope(t)));
  let n = 0;
  for (const count of x.counts) n += count;
  const skyError = (1.2533 * Math.hypot(y.noise, b * x.noise)) / Math.sqrt(Math.max(1, n));
  return { a: y.sky - b * x.sky, b, aError: Math.hypot(skyError, bError * x.sky), bError };
}
