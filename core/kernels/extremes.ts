import { simd } from './wasm';

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;

/** Greatest value of a plane and how many pixels have data; −∞ and 0 where none has. */
export function extremesOf(values: Float32Array): { max: number; count: number } {
  const wasm = simd();
  let [max, count] = [Number.NEGATIVE_INFINITY, 0];
  if (!wasm) {
    for (const v of values) {
      if (v === v) count++;
      if (v > max) max = v;
    }
    return { max, count };
  }
  wasm.begin();
  const from = wasm.room(PIECE);
  for (let at = 0; at < values.length; at += PIECE) {
    const n = Math.min(PIECE, values.length - at);
    wasm.floats(from, n).set(values.subarray(at, at + n));
    count += wasm.run.present(from, n);
    max = Math.max(max, wasm.run.greatest(from, n));
  }
  return { max, count };
}

/** How many pixels are no smaller than a value. */
export function countAtLeast(values: Float32Array, least: number): number {
  const wasm = simd();
  let count = 0;
  if (!wasm) {
    for (const v of values) if (v >= least) count++;
    return count;
  }
  wasm.begin();
  const from = wasm.room(PIECE);
  for (let at = 0; at < values.length; at += PIECE) {
    const n = Math.min(PIECE, values.length - at);
    wasm.floats(from, n).set(values.subarray(at, at + n));
    count += wasm.run.atLeast(from, n, least);
  }
  return count;
}
