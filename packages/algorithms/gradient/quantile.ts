/** The value of a few that a share of them, 0 to 1, lies below. */
export const quantile = (values: readonly number[], q: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(q * values.length))];
