import { planeStatistics } from './plane-statistics';

/**
 * Exact quantiles, whatever the number of values; NaN counts nowhere.
 * A rank between two values is interpolated, so that the median of an even count is the mean of the middle two.
 * @param at quantiles, each 0 to 1
 * @returns NaN for each where no value counts
 */
export const quantiles = (values: Float32Array, at: readonly number[]): readonly number[] =>
  planeStatistics(values, at).quantiles;

/** The exact median; NaN where no value counts. */
export const median = (values: Float32Array): number => quantiles(values, [0.5])[0];
