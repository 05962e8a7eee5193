import { medianOfSorted } from './median';

/** A sky level with the spread of the pixels that made it. */
export interface Sky {
  readonly sky: number;
  /** 1.4826 × MAD of the pixels kept, in the image's units. */
  readonly sigma: number;
  /** Pixels kept. */
  readonly used: number;
}

/** Pixels further than this many σ from the median are not sky. */
export const KAPPA = 3;

/** A value between those of the two whole ranks about it. */
export function interpolated(rank: number, at: (rank: number) => number): number {
  const low = at(Math.floor(rank));
  const t = rank - Math.floor(rank);
  return t === 0 ? low : low + (at(Math.ceil(rank)) - low) * t;
}

/**
 * The first whole number from `low` on for which something holds that holds for all after it as well; `high` where it holds for none below.
 */
export function partitionPoint(low: number, high: number, holds: (at: number) => boolean): number {
  let [from, to] = [low, high];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (holds(middle)) to = middle;
    else from = middle + 1;
  }
  return from;
}

/** How many values are no greater. */
export const upperBound = (sorted: Float32Array, value: number): number =>
  partitionPoint(0, sorted.length, (at) => !(sorted[at] <= value));

/** How many values are smaller. */
const lowerBound = (sorted: Float32Array, value: number): number =>
  partitionPoint(0, sorted.length, (at) => !(sorted[at] < value));

/**
 * The sigma-clipped median of numbers in rising order.
 * @param kappa further than so many σ from the median is left out
 */
export function sigmaClipSorted(sorted: Float32Array, kappa = KAPPA): Sky {
  let kept = sorted;
  let sigma = 0;
  for (let round = 0; round < 100; round++) {
    const centre = medianOfSorted(kept);
    sigma = 1.4826 * madOfSorted(kept, centre);
    const next = kept.subarray(lowerBound(kept, centre - kappa * sigma), upperBound(kept, centre + kappa * sigma));
    if (next.length === kept.length) break;
    kept = next;
  }
  return { sky: medianOfSorted(kept), sigma, used: kept.length };
}

/** Median distance from a centre of numbers in rising order, by walking outwards from it. */
export function madOfSorted(sorted: Float32Array, centre: number): number {
  let above = lowerBound(sorted, centre);
  let below = above - 1;
  const half = (sorted.length - 1) / 2;
  const step = (): number => {
    const up = above < sorted.length ? sorted[above] - centre : Number.POSITIVE_INFINITY;
    const down = below >= 0 ? centre - sorted[below] : Number.POSITIVE_INFINITY;
    if (up < down) above++;
    else below--;
    return Math.min(up, down);
  };
  let last = 0;
  for (let n = 0; n <= Math.floor(half); n++) last = step();
  return half === Math.floor(half) ? last : (last + step()) / 2;
}
