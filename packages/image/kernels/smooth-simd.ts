import type { Taps } from './smooth';
import type { WasmKernels } from './wasm';

/** Rows of one image on their way through the kernel: only those within its reach are held. */
interface Ring {
  readonly line: number;
  readonly slots: readonly number[];
}

/** Where what a smoothing takes away is put, which may be the plane itself, and the plane that tells where data are: NaN where not. */
export interface ResidualOutput {
  readonly into: Float32Array;
  readonly where: Float32Array;
}

/**
 * `smoothPlain` of `./smooth` in WebAssembly: the same sums in single precision. Rows go through one by one, so that little memory is
 * needed whatever the plane's size.
 */
export function smoothSimd(
  wasm: WasmKernels,
  plane: Float32Array,
  width: number,
  height: number,
  taps: Taps,
  step: number,
  there: Float32Array | undefined,
  apart?: ResidualOutput,
): Float32Array {
  const reach = (taps.length - 1) * step;
  wasm.resetArena();
  const tapsAt = wasm.allocFrom(taps);
  const scaleAt = wasm.allocFrom(rowScales(width, taps, step));
  // Rows that lie between the kernel's taps are held as well: later rows want them.
  const held = 2 * reach + 1;
  const ring = (): Ring => ({
    line: wasm.allocFrom(new Float32Array(width + 2 * reach)),
    slots: Array.from({ length: held }, () => wasm.alloc(width)),
  });
  const values = ring();
  const weights = there && ring();
  const pointersAt = wasm.alloc(2 * taps.length);
  const tapWeightsAt = wasm.alloc(2 * taps.length);
  const sumsAt = wasm.alloc(width);
  const shareAt = wasm.alloc(width);
  const lessAt = wasm.alloc(width);
  const whereAt = wasm.alloc(width);
  const { memory, rows, columns, part, ratio, difference } = wasm.run;
  const floats = new Float32Array(memory.buffer);
  const words = new Uint32Array(memory.buffer);

  const take = (y: number): void => {
    const middle = values.line + 4 * reach;
    floats.set(plane.subarray(y * width, (y + 1) * width), middle / 4);
    if (weights && there) {
      const weightMiddle = weights.line + 4 * reach;
      floats.set(there.subarray(y * width, (y + 1) * width), weightMiddle / 4);
      part(middle, weightMiddle, width);
      rows(weightMiddle, width, tapsAt, taps.length, step, scaleAt, weights.slots[y % held]);
    }
    rows(middle, width, tapsAt, taps.length, step, scaleAt, values.slots[y % held]);
  };
  const weave = (y: number, from: Ring, to: number): void => {
    let count = 0;
    let sum = 0;
    for (let k = 1 - taps.length; k < taps.length; k++) {
      const row = y + k * step;
      if (row < 0 || row >= height) continue;
      const w = taps[Math.abs(k)];
      words[pointersAt / 4 + count] = from.slots[row % held];
      floats[tapWeightsAt / 4 + count++] = w;
      sum += w;
    }
    columns(pointersAt, tapWeightsAt, count, width, 1 / sum, to);
  };

  const out = new Float32Array(plane.length);
  for (let y = 0; y < Math.min(reach, height); y++) take(y);
  for (let y = 0; y < height; y++) {
    if (y + reach < height) take(y + reach);
    weave(y, values, sumsAt);
    if (weights) {
      weave(y, weights, shareAt);
      ratio(sumsAt, shareAt, width);
    }
    out.set(floats.subarray(sumsAt / 4, sumsAt / 4 + width), y * width);
    if (!apart) continue;
    // The plane's own row has been read, with all that lie within reach: it may be written over.
    floats.set(plane.subarray(y * width, (y + 1) * width), lessAt / 4);
    if (weights) floats.set(apart.where.subarray(y * width, (y + 1) * width), whereAt / 4);
    difference(lessAt, sumsAt, weights ? whereAt : lessAt, width);
    apart.into.set(floats.subarray(lessAt / 4, lessAt / 4 + width), y * width);
  }
  return out;
}

/** What a row's sums are multiplied by: 1 inside, more near the ends, where part of the kernel lies outside. */
function rowScales(width: number, taps: Taps, step: number): Float32Array {
  const reach = (taps.length - 1) * step;
  const scales = new Float32Array(width).fill(1);
  for (let x = 0; x < width; x = x === reach - 1 ? Math.max(reach, width - reach) : x + 1) {
    let weight = taps[0];
    for (let k = 1, d = step; k < taps.length; k++, d += step)
      weight += (x >= d ? taps[k] : 0) + (x + d < width ? taps[k] : 0);
    scales[x] = 1 / weight;
  }
  return scales;
}
