import { planeStatistics } from '@owl-loom/image/stats/plane-statistics';
import { SelectedPairs, type SquareSums, type SignalRange } from './selected-pairs';
import { jackknifeError } from './jackknife';
import type { Line, PairNoise, PairSums } from './pairs';

/** Cores of stars are not the subject: what lies above this quantile does not count for the spread. */
const TOP = 0.998;

/** A line that brings two distributions to one sky and one spread. */
export interface LevelFit extends Line {
  /** Sums over the pairs that count. */
  readonly all: PairSums;
  readonly aError: number;
  readonly bError: number;
}

/** A side's signal about its sky, summed tile by tile. */
interface Side extends SquareSums {
  readonly sky: number;
  readonly noise: number;
}

/** The sky of the pixels that count, in the sky region where there is one, and the top up to which they count for the spread. */
function levelsOf(pairs: SelectedPairs, which: 'target' | 'reference'): SignalRange {
  const { sky: place, region: _, ...input } = pairs.input;
  const whole = planeStatistics(pairs.side(which), [TOP]);
  const sky = place
    ? planeStatistics(new SelectedPairs({ ...input, region: place }).side(which)).sky.sky
    : whole.sky.sky;
  return { level: sky, top: whole.quantiles[0] };
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
export function fitLevels(pairs: SelectedPairs, noise: PairNoise): LevelFit | undefined {
  const [target, reference] = [levelsOf(pairs, 'target'), levelsOf(pairs, 'reference')];
  const found = pairs.squares(target, reference);
  const x: Side = { sky: target.level, noise: noise.target, ...found.target };
  const y: Side = { sky: reference.level, noise: noise.reference, ...found.reference };
  const slope = (left: number) => spreadWithout(y, left) / spreadWithout(x, left);
  const b = slope(-1);
  if (!Number.isFinite(b) || !(b > 0)) return undefined;
  const bError = jackknifeError(Array.from(x.sums, (_, t) => slope(t)));
  let n = 0;
  for (const count of x.counts) n += count;
  const skyError = (1.2533 * Math.hypot(y.noise, b * x.noise)) / Math.sqrt(Math.max(1, n));
  return { all: found.all, a: y.sky - b * x.sky, b, aError: Math.hypot(skyError, bError * x.sky), bError };
}
