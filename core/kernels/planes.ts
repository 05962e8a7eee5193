import type { Simd } from './wasm';

/** Pixels that are brought at a time. */
const PIECE = 8192;
const ROOM = PIECE * 4 + 64;

/**
 * Runs a kernel over planes wherever they lie: those in the kernels' own memory as they are, others brought there piece by piece.
 * @param outs planes of one length, as are the inputs; at most sixteen of both together
 * @param run is given the number of pixels, the addresses of the inputs and those of the outputs
 */
export function overPlanes(
  wasm: Simd,
  inputs: readonly Float32Array[],
  outs: readonly Float32Array[],
  run: (n: number, from: readonly number[], to: readonly number[]) => void,
): void {
  const { buffer } = wasm.run.memory;
  const { length } = outs[0];
  const isHome = (plane: Float32Array) => plane.buffer === buffer;
  const all = [...inputs, ...outs];
  const step = all.every(isHome) ? length : PIECE;
  for (let i = 0; i < length; i += step) {
    const n = Math.min(step, length - i);
    const at = all.map((plane, k) => (isHome(plane) ? plane.byteOffset + 4 * i : wasm.brought + k * ROOM));
    inputs.forEach((plane, k) => {
      if (!isHome(plane)) wasm.floats(at[k], n).set(plane.subarray(i, i + n));
    });
    run(n, at.slice(0, inputs.length), at.slice(inputs.length));
    outs.forEach((plane, k) => {
      if (!isHome(plane)) plane.set(wasm.floats(at[inputs.length + k], n), i);
    });
  }
}
