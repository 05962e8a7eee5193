/** Lists below this length are as well sorted by the language's own way. */
const SHORT = 400;
/** Bits that one pass sorts by, in three passes. */
const BITS = 11;
const BINS = 2 ** BITS;

const counts = [0, 1, 2].map(() => new Uint32Array(BINS));
let keys = new Uint32Array(0);
let other = new Uint32Array(0);

/**
 * Puts numbers in rising order, digit by digit of their bits (Hollerith 1889), which takes a fraction of the time of comparing them.
 * @param values none of them NaN; they are overwritten
 * @returns the same list
 */
export function radixSort(values: Float32Array): Float32Array {
  const n = values.length;
  if (n < SHORT) return values.sort();
  if (keys.length < n) [keys, other] = [new Uint32Array(n), new Uint32Array(n)];
  for (const bins of counts) bins.fill(0);
  const [low, middle, high] = counts;
  const floats = new Float32Array(keys.buffer, 0, n);
  floats.set(values);
  for (let i = 0; i < n; i++) {
    // Bits of numbers from nought up rise as the numbers do; those of negative ones fall.
    const bits = keys[i];
    const key = bits >>> 31 === 1 ? ~bits >>> 0 : (bits | 0x80000000) >>> 0;
    keys[i] = key;
    low[key & (BINS - 1)]++;
    middle[(key >>> BITS) & (BINS - 1)]++;
    high[key >>> (2 * BITS)]++;
  }
  let [from, to] = [keys, other];
  for (const [pass, bins] of counts.entries()) {
    let start = 0;
    for (let b = 0; b < BINS; b++) {
      const count = bins[b];
      bins[b] = start;
      start += count;
    }
    const shift = pass * BITS;
    for (let i = 0; i < n; i++) {
      const key = from[i];
      to[bins[(key >>> shift) & (BINS - 1)]++] = key;
    }
    [from, to] = [to, from];
  }
  for (let i = 0; i < n; i++) from[i] = from[i] >>> 31 === 1 ? from[i] & 0x7fffffff : ~from[i] >>> 0;
  values.set(new Float32Array(from.buffer, 0, n));
  return values;
}
