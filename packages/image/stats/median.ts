/** The median of a short list in rising order; the mean of the middle two where their number is even. For planes see `median`. */
export const medianOfSorted = (sorted: ArrayLike<number>): number => {
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
};

/** The median of a short list of doubles, which single precision would round. */
export const medianOfList = (list: readonly number[]): number => medianOfSorted([...list].sort((a, b) => a - b));
