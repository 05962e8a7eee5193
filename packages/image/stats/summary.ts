import { linearHistogram } from '../kernels/linear-histogram';
import { planeStatistics } from './plane-statistics';
import { planeNoise } from './noise';
import { quantiles } from './quantile';

/** The measurements of one plane that people read. */
export interface PlaneSummary {
  readonly sky: number;
  readonly noise: number;
  readonly median: number;
  readonly mean: number;
  readonly min: number;
  readonly max: number;
  /** Share of pixels without data, 0 to 1. */
  readonly noData: number;
}

/** Summary of a plane at full size; every measurement but `noData` is NaN where the plane is empty. */
export function summarise(values: Float32Array, width: number, height: number): PlaneSummary {
  const { count, min, max, mean, sky, quantiles } = planeStatistics(values, [0.5]);
  return {
    sky: sky.sky,
    noise: planeNoise(values, width, height),
    median: quantiles[0],
    mean,
    min,
    max,
    noData: (values.length - count) / Math.max(1, values.length),
  };
}

/** A histogram of one plane: `bins[i]` values lie in the i-th of equal parts from `low` to `high`. */
export interface HistogramBins {
  readonly low: number;
  readonly high: number;
  readonly bins: readonly number[];
}

/** Bins of a histogram: two screen pixels each in the editors. */
const BINS = 143;

/**
 * The histogram of a plane: from 0 to 1 where it is stretched, what is cut off there falling into the end bins; else from the 0.05 % to
 * the 99.8 % quantile, and what lies outside is left out. NaN does not count.
 */
export const histogramOf = (values: Float32Array, stretched: boolean): HistogramBins =>
  histogramBetween(values, stretched ? [0, 1] : quantiles(values, QUANTILES), stretched);

/** The quantiles between which a linear plane's histogram lies. */
export const QUANTILES = [0.0005, 0.998] as const;

/** The histogram between two ends; what lies outside falls into the end bins where it is kept. */
export function histogramBetween(
  values: Float32Array,
  [low, high]: readonly number[],
  keepsOutside: boolean,
): HistogramBins {
  return { low, high, bins: linearHistogram(values, low, high, BINS, keepsOutside) };
}
