import { type WasmKernels, wasmKernels } from './wasm';

/** Pixels that are brought into the kernels' memory at a time. */
const PIECE = 65_536;
/** Tables that the kernel counts in side by side. */
const TABLES = 4;

/**
 * Counts pixels in equal bins from `low` to `high`; NaN counts nowhere.
 * @param keepsOutside whether what lies outside falls into the end bins; else it counts nowhere
 */
export function linearHistogram(
  values: Float32Array,
  low: number,
  high: number,
  bins: number,
  keepsOutside: boolean,
): number[] {
  const wasm = wasmKernels();
  return wasm
    ? binsSimd(wasm, values, low, high, bins, keepsOutside)
    : equalBinsPlain(values, low, high, bins, keepsOutside);
}

function binsSimd(
  wasm: WasmKernels,
  values: Float32Array,
  low: number,
  high: number,
  bins: number,
  keepsOutside: boolean,
): number[] {
  wasm.resetArena();
  const from = wasm.alloc(PIECE);
  // The last bin of each table holds what counts nowhere.
  const table = bins + 1;
  const at = wasm.alloc(TABLES * table);
  const counts = new Uint32Array(wasm.run.memory.buffer, at, TABLES * table).fill(0);
  const per = bins / (high - low || 1);
  for (let i = 0; i < values.length; i += PIECE) {
    const piece = values.subarray(i, i + PIECE);
    const room = wasm.floats(from, Math.ceil(piece.length / TABLES) * TABLES);
    room.set(piece);
    room.fill(Number.NaN, piece.length);
    wasm.run.equal(from, piece.length, low, high, per, bins, keepsOutside, at);
  }
  return Array.from({ length: bins }, (_, bin) => {
    let sum = 0;
    for (let k = 0; k < TABLES; k++) sum += counts[k * table + bin];
    return sum;
  });
}

/** {@link linearHistogram} in plain TypeScript: the reference. */
export function equalBinsPlain(
  values: Float32Array,
  low: number,
  high: number,
  bins: number,
  keepsOutside: boolean,
): number[] {
  const counts = new Uint32Array(bins);
  const per = bins / (high - low || 1);
  const last = bins - 1;
  for (const v of values) {
    if (!(keepsOutside ? v === v : v >= low && v <= high)) continue;
    const at = (v - low) * per;
    counts[at >= last ? last : at > 0 ? at | 0 : 0]++;
  }
  return Array.from(counts);
}
