/** Places that a key has room for beside the bits of a value: 2²¹ and 2³² together are what a double holds exactly. */
const PLACES = 2 ** 21;

/**
 * The places of values from the greatest to the least, equal ones as they stand. Numbers alone are sorted many times faster than by a
 * comparison.
 * @param values none may be NaN
 */
export function argsortDescending(values: Float32Array): Uint32Array {
  const { length } = values;
  if (length > PLACES) return Uint32Array.from(values.keys()).sort((a, b) => values[b] - values[a] || a - b);
  const bits = new Int32Array(values.buffer, values.byteOffset, length);
  const keys = new Float64Array(length);
  for (let i = 0; i < length; i++) {
    // Bits that stand in the order of the numbers, nought and its negative alike.
    const own = values[i] === 0 ? 0 : bits[i];
    const rising = own < 0 ? ~own >>> 0 : (own | 0x80000000) >>> 0;
    keys[i] = (0xffffffff - rising) * PLACES + i;
  }
  return Uint32Array.from(keys.sort(), (key) => key % PLACES);
}
