/**
 * The value of a rank among unsorted ones (Hoare 1961), which is left at its place: what stands before it is no greater, what stands after it
 * no smaller.
 * @param values none of them NaN; their order is changed
 */
export function select(values: Float32Array, rank: number): number {
  let [left, right] = [0, values.length - 1];
  while (left < right) {
    const pivot = middleOfThree(values[left], values[(left + right) >> 1], values[right]);
    let [i, j] = [left, right];
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i > j) break;
      const held = values[i];
      values[i++] = values[j];
      values[j--] = held;
    }
    if (rank <= j) right = j;
    else if (rank >= i) left = i;
    else break;
  }
  return values[rank];
}

const middleOfThree = (a: number, b: number, c: number): number =>
  Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));

/** The median of values none of which is NaN; their order is changed. NaN where there are none. */
export function medianInPlace(values: Float32Array): number {
  const { length } = values;
  if (length === 0) return Number.NaN;
  const upper = select(values, length >> 1);
  if (length % 2 === 1) return upper;
  let lower = values[0];
  for (let i = 1; i < length >> 1; i++) if (values[i] > lower) lower = values[i];
  return (lower + upper) / 2;
}

/** Median and 1.4826 × MAD of values; NaN counts nowhere. The values are overwritten. */
export function spreadInPlace(values: Float32Array): { middle: number; sigma: number; count: number } {
  let n = 0;
  for (let i = 0; i < values.length; i++) if (values[i] === values[i]) values[n++] = values[i];
  const there = values.subarray(0, n);
  const middle = medianInPlace(there);
  for (let i = 0; i < n; i++) there[i] = Math.abs(there[i] - middle);
  return { middle, sigma: 1.4826 * medianInPlace(there), count: n };
}
