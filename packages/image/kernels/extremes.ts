import { wasmKernels } from './wasm';

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;

/** Greatest value of a plane, and of each of its pieces; and how many pixels have data. −∞ and 0 where none has. */
interface Extremes {
  readonly max: number;
  readonly count: number;
  readonly tops: Float64Array;
}

/** The greatest values of a plane. */
export function planeMaxima(values: Float32Array): Extremes {
  const wasm = wasmKernels();
  const tops = new Float64Array(Math.ceil(values.length / PIECE)).fill(Number.NEGATIVE_INFINITY);
  let count = 0;
  wasm?.resetArena();
  const from = wasm?.alloc(PIECE) ?? 0;
  tops.forEach((_, i) => {
    const piece = values.subarray(i * PIECE, (i + 1) * PIECE);
    if (wasm) {
      wasm.floats(from, piece.length).set(piece);
      count += wasm.run.present(from, piece.length);
      tops[i] = wasm.run.greatest(from, piece.length);
      return;
    }
    for (const v of piece) {
      if (v === v) count++;
      if (v > tops[i]) tops[i] = v;
    }
  });
  return { max: tops.reduce((max, top) => Math.max(max, top), Number.NEGATIVE_INFINITY), count, tops };
}

/**
 * How many pixels are no smaller than a value.
 * @param tops the greatest value of each piece, where they are known: pieces that lie below need not be looked at
 */
export function countAtLeast(values: Float32Array, min: number, tops?: Float64Array): number {
  const wasm = wasmKernels();
  let count = 0;
  if (!wasm) {
    for (const v of values) if (v >= min) count++;
    return count;
  }
  wasm.resetArena();
  const from = wasm.alloc(PIECE);
  for (let at = 0; at < values.length; at += PIECE) {
    if (tops && tops[at / PIECE] < Math.fround(min)) continue;
    const n = Math.min(PIECE, values.length - at);
    wasm.floats(from, n).set(values.subarray(at, at + n));
    count += wasm.run.atLeast(from, n, min);
  }
  return count;
}
