import { censusOf } from '../stats/census';
import { CountedPairs } from './counted';
import { jackknifeError } from './jackknife';
import type { Line, PairNoise } from './pairs';

/** Cores of stars are not the subject: what lies above this quantile does not count for the spread. */
const TOP = 0.998;

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

/** The sky of the pixels that count, in the sky region where there is one, and the top up to which they count for the spread. */
function levelsOf(pairs: CountedPairs, which: 'target' | 'reference'): { sky: number; top: number } {
  const { sky: place, region: _, ...input } = pairs.input;
  const whole = censusOf(pairs.side(which), [TOP]);
  const sky = place ? censusOf(new CountedPairs({ ...input, region: place }).side(which)).sky.sky : whole.sky.sky;
  return { sky, top: whole.quantiles[0] };
}

/** The side's signal about its sky, summed tile by tile. */
function sideOf(pairs: CountedPairs, which: 'target' | 'reference', noise: number): Side {
  const { sky, top } = levelsOf(pairs, which);
  return { sky, noise, ...pairs.squares(which, sky, top) };
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
export function fitLevels(pairs: CountedPairs, noise: PairNoise): LevelFit | undefined {
  const x = sideOf(pairs, 'target', noise.target);
  const y = sideOf(pairs, 'reference', noise.reference);
  const slope = (left: number) => spreadWithout(y, left) / spreadWithout(x, left);
  const b = slope(-1);
  if (!Number.isFinite(b) || !(b > 0)) return undefined;
  const bError = jackknifeError(Array.from(x.sums, (_, t) => slope(t)));
  let n = 0;
  for (const count of x.counts) n += count;
  const skyError = (1.2533 * Math.hypot(y.noise, b * x.noise)) / Math.sqrt(Math.max(1, n));
  return { a: y.sky - b * x.sky, b, aError: Math.hypot(skyError, bError * x.sky), bError };
}
