/**
 * The value of a rank among unsorted ones (Hoare 1961), which is left at its place: what stands before it is no greater, what stands after it
 * no smaller.
 * @param values none of them NaN; their order is changed
 */
export function quickselect(values: Float32Array, rank: number): number {
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

/** From this many values on, those about the middle are found first, by counting. */
const MANY = 2 ** 15;
const BUCKETS = 2 ** 16;

/** A number's bucket by its upper bits, rising with it: those below nought have theirs the other way round. */
const bucketOf = (bits: number): number => (bits ^ ((bits >> 31) | 0x80000000)) >>> 16;

/** The bucket in which a rank lies, and how many values lie in those before it. */
function bucketAt(counts: Uint32Array, rank: number): { bucket: number; before: number } {
  let before = 0;
  for (let bucket = 0; ; bucket++) {
    if (before + counts[bucket] > rank) return { bucket, before };
    before += counts[bucket];
  }
}

/** {@link medianInPlace} of many: values are counted by their upper bits, and only the bucket of the middle is looked into. */
function medianOfMany(values: Float32Array): number {
  const { length } = values;
  const bits = new Int32Array(values.buffer, values.byteOffset, length);
  const counts = new Uint32Array(BUCKETS);
  for (let i = 0; i < length; i++) counts[bucketOf(bits[i])]++;
  const inside = (bucket: number): Float32Array => {
    const own = new Float32Array(counts[bucket]);
    for (let i = 0, n = 0; n < own.length; i++) if (bucketOf(bits[i]) === bucket) own[n++] = values[i];
    return own;
  };
  const [lower, upper] = [bucketAt(counts, (length - 1) >> 1), bucketAt(counts, length >> 1)];
  const own = inside(lower.bucket);
  const low = quickselect(own, ((length - 1) >> 1) - lower.before);
  if (length % 2 === 1) return low;
  const high =
    upper.bucket === lower.bucket
      ? quickselect(own, (length >> 1) - upper.before)
      : inside(upper.bucket).reduce((min, v) => Math.min(min, v), Number.POSITIVE_INFINITY);
  return (low + high) / 2;
}

/** The median of values none of which is NaN; their order may be changed. NaN where there are none. */
export function medianInPlace(values: Float32Array): number {
  const { length } = values;
  if (length === 0) return Number.NaN;
  if (length >= MANY) return medianOfMany(values);
  const upper = quickselect(values, length >> 1);
  if (length % 2 === 1) return upper;
  let lower = values[0];
  for (let i = 1; i < length >> 1; i++) if (values[i] > lower) lower = values[i];
  return (lower + upper) / 2;
}

/** Median and 1.4826 × MAD of values; NaN counts nowhere. The values are overwritten. */
export function medianMadInPlace(values: Float32Array): { middle: number; sigma: number; count: number } {
  let n = 0;
  for (let i = 0; i < values.length; i++) if (values[i] === values[i]) values[n++] = values[i];
  const there = values.subarray(0, n);
  const middle = medianInPlace(there);
  for (let i = 0; i < n; i++) there[i] = Math.abs(there[i] - middle);
  return { middle, sigma: 1.4826 * medianInPlace(there), count: n };
}
