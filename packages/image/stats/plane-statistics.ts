import {
  allOf,
  type LogHistogram,
  binOf,
  bitsOf,
  collectInRanges,
  countBins,
  BINS_PER_SIDE,
  type PixelStream,
} from '../kernels/log-histogram';
import { CumulativeHistogram, sigmaClipHistogram } from './cumulative';
import { sigmaClipSorted, interpolated, type Sky, upperBound } from './sorted';

/** What a plane's pixels are, taken together. Everything but `count` is NaN where none has data. */
export interface PlaneStatistics {
  /** Pixels that have data. */
  readonly count: number;
  readonly min: number;
  readonly max: number;
  readonly mean: number;
  /** The sigma-clipped median. */
  readonly sky: Sky;
  /** Those asked for, exact; a rank between two values is interpolated. */
  readonly quantiles: readonly number[];
  /** Of the pixels up to the top quantile that was asked for. */
  readonly lowerMoments: Lower;
}

interface Lower {
  readonly mean: number;
  readonly variance: number;
}

/** Mean square of the lower pixels about a level. */
export const meanSquareAbout = ({ mean, variance }: Lower, level: number): number => variance + (mean - level) ** 2;

/** Below this many pixels sorting them is the quickest. */
const FEW = 12_000;
/** Pixels that tell where the sky is and how far it scatters, so that bins can be laid about it: one in eight, within these numbers. */
const SAMPLE = { least: 4096, most: 32_768 } as const;
/** The innermost bins end at this share of the sample's σ. */
const FINEST = 2 ** -13;

const EMPTY: Sky = { sky: Number.NaN, sigma: Number.NaN, used: 0 };

/**
 * Counts a plane's pixels in two passes: a fine histogram about the sky that a sample shows, whose bins grow with the distance from it, then
 * the few pixels in the bins where quantiles lie. Medians and quantiles are those of the pixels to the last digit.
 * @param quantiles 0 to 1, rising
 * @param top the quantile up to which pixels count for `lower`; 1 where nothing is said
 */
export function planeStatistics(
  of: Float32Array | PixelStream,
  quantiles: readonly number[] = [],
  top = 1,
): PlaneStatistics {
  const pixels = of instanceof Float32Array ? allOf(of) : of;
  if (pixels.length < FEW) return bySorting(pixels, quantiles, top);
  const sample = bySorting(sampleOf(pixels), [], 1);
  const reach = sample.sky.sigma > 0 ? sample.sky.sigma : Math.max(Math.abs(sample.sky.sky) * 1e-6, 1e-12);
  const centre = sample.count > 0 ? sample.sky.sky : 0;
  return fromBins(pixels, countBins(pixels, centre, bitsOf(reach * FINEST)), quantiles, top);
}

/** Pixels taken with a scattered step, which keeps the sample out of the columns of the picture. */
function sampleOf(pixels: PixelStream): PixelStream {
  const count = Math.min(SAMPLE.most, Math.max(SAMPLE.least, pixels.length >> 3));
  const stride = Math.floor(pixels.length / count);
  const values = new Float32Array(count);
  const one = new Float32Array(1);
  for (let i = 0; i < count; i++) {
    pixels.fill(i * stride + ((Math.imul(i, 40503) & 0xffff) % stride), one);
    values[i] = one[0];
  }
  return allOf(values);
}

function bySorting(pixels: PixelStream, at: readonly number[], top: number): PlaneStatistics {
  const all = new Float32Array(pixels.length);
  pixels.fill(0, all);
  let length = 0;
  for (const v of all) if (v === v) all[length++] = v;
  const sorted = all.subarray(0, length).sort();
  if (length === 0) return nothing(at);
  const valueAt = (q: number) => interpolated(q * (length - 1), (rank) => sorted[rank]);
  const sky = sigmaClipSorted(sorted);
  const last = top >= 1 ? length : upperBound(sorted, valueAt(top));
  let sum = 0;
  let [part, squares] = [0, 0];
  for (let i = 0; i < length; i++) {
    sum += sorted[i];
    if (i >= last) continue;
    part += sorted[i] - sky.sky;
    squares += (sorted[i] - sky.sky) ** 2;
  }
  const lower = lowerOf(last, part, squares, sky.sky);
  const quantiles = at.map(valueAt);
  return {
    count: length,
    min: sorted[0],
    max: sorted[length - 1],
    mean: sum / length,
    sky,
    quantiles,
    lowerMoments: lower,
  };
}

/** From sums about a centre. */
function lowerOf(number: number, sum: number, squares: number, centre: number): Lower {
  const off = sum / Math.max(1, number);
  return { mean: centre + off, variance: Math.max(0, squares / Math.max(1, number) - off * off) };
}

const nothing = (at: readonly number[]): PlaneStatistics => {
  const none = Number.NaN;
  return {
    count: 0,
    min: none,
    max: none,
    mean: none,
    sky: EMPTY,
    quantiles: at.map(() => none),
    lowerMoments: { mean: none, variance: none },
  };
};

function fromBins(pixels: PixelStream, bins: LogHistogram, at: readonly number[], top: number): PlaneStatistics {
  const { count, min, max, sum } = bins;
  if (count === 0) return nothing(at);
  const sums = new CumulativeHistogram(bins);
  const kept = sigmaClipHistogram(sums);
  const skyRank = (kept.first + kept.last - 1) / 2;
  const ranks = [...at.map((q) => Math.min(1, Math.max(0, q)) * (count - 1)), skyRank];
  const wanted = [
    ...new Set(ranks.flatMap((rank) => [sums.binAt(Math.floor(rank)), sums.binAt(Math.ceil(rank))])),
  ].sort((a, b) => a - b);
  // Distances were rounded to single precision: a hair wider on both sides, and what does not belong is left out after.
  const hair = (edge: number) => 2.4e-7 * Math.abs(edge - bins.centre);
  const brackets: [number, number][] = [];
  let most = 0;
  for (const bin of wanted) {
    const [low, high] = [sums.edges[bin] - hair(sums.edges[bin]), sums.edges[bin + 1] + hair(sums.edges[bin + 1])];
    const before = brackets[brackets.length - 1];
    if (before && low <= before[1]) before[1] = high;
    else brackets.push([low, high]);
  }
  for (const [low, high] of brackets) {
    const [a, b] = [binOf(low, bins.centre, bins.base), binOf(high, bins.centre, bins.base)];
    most += sums.below[Math.min(2 * BINS_PER_SIDE, b + 2)] - sums.below[Math.max(0, a - 1)];
  }
  const ceiling = top >= 1 ? max : sums.valueAt(top * count);
  const found = collectInRanges(pixels, { brackets, most, centre: bins.centre, top: ceiling });
  const inBins = new Map<number, Float32Array>();
  const sorted = sortedCopy(found.values);
  for (const bin of wanted) {
    inBins.set(
      bin,
      sorted.filter((v) => binOf(v, bins.centre, bins.base) === bin),
    );
  }
  const pixelOf = (rank: number): number => {
    const bin = sums.binAt(rank);
    return inBins.get(bin)?.[rank - sums.below[bin]] ?? Number.NaN;
  };
  const values = ranks.map((rank) => interpolated(rank, pixelOf));
  const sky = values[values.length - 1];
  return {
    count,
    min,
    max,
    mean: sum / count,
    sky: { sky, sigma: kept.sigma, used: kept.last - kept.first },
    quantiles: values.slice(0, -1),
    lowerMoments: lowerOf(found.number, found.sum, found.squares, bins.centre),
  };
}

/** Sorted; a picture that is one colour throughout needs no sorting. */
function sortedCopy(values: Float32Array): Float32Array {
  const [first] = values;
  return values.every((v) => v === first) ? values : values.sort();
}
