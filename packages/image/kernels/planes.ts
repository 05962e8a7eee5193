import type { WasmKernels } from './wasm';

/** Pixels that are brought at a time. */
export const PIECE = 8192;
const ROOM = PIECE * 4 + 64;

/** Where a kernel's piece of the k-th plane lies while it is brought. */
export const stagingAddressOf = (wasm: WasmKernels, k: number): number => wasm.stagingAddress + k * ROOM;

/**
 * Runs a kernel over planes wherever they lie: those in the kernels' own memory as they are, others brought there piece by piece.
 * @param outs planes of one length, as are the inputs; at most sixteen of both together
 * @param run is given the number of pixels, the addresses of the inputs, those of the outputs, and the first pixel's index
 */
export function runOnPlanes(
  wasm: WasmKernels,
  inputs: readonly Float32Array[],
  outs: readonly Float32Array[],
  run: (n: number, from: readonly number[], to: readonly number[], at: number) => void,
): void {
  const { buffer } = wasm.run.memory;
  const { length } = outs[0];
  const isHome = (plane: Float32Array) => plane.buffer === buffer;
  const all = [...inputs, ...outs];
  const step = all.every(isHome) ? length : PIECE;
  for (let i = 0; i < length; i += step) {
    const n = Math.min(step, length - i);
    const at = all.map((plane, k) => (isHome(plane) ? plane.byteOffset + 4 * i : stagingAddressOf(wasm, k)));
    inputs.forEach((plane, k) => {
      if (!isHome(plane)) wasm.floats(at[k], n).set(plane.subarray(i, i + n));
    });
    run(n, at.slice(0, inputs.length), at.slice(inputs.length), i);
    outs.forEach((plane, k) => {
      if (!isHome(plane)) plane.set(wasm.floats(at[inputs.length + k], n), i);
    });
  }
}
