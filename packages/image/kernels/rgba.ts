import { runOnPlanes } from './planes';
import { wasmKernels } from './wasm';

/**
 * Three planes of numbers from 0 to 1 as bytes of red, green, blue and opacity; a pixel without data in any of them is transparent.
 * @param out four bytes a pixel, beginning at a multiple of four
 */
export function rgbaOf(planes: readonly [Float32Array, Float32Array, Float32Array], out: Uint8ClampedArray): void {
  const wasm = wasmKernels();
  if (!wasm) {
    rgbaPlain(planes, out);
    return;
  }
  // Four bytes are as much as one float; they are only copied.
  const words = new Float32Array(out.buffer, out.byteOffset, out.length / 4);
  runOnPlanes(wasm, planes, [words], (n, [r, g, b], [to]) => wasm.run.rgba(r, g, b, n, to));
}

/** {@link rgbaOf} in plain TypeScript: the reference. */
export function rgbaPlain([r, g, b]: readonly Float32Array[], out: Uint8ClampedArray): void {
  for (let i = 0, at = 0; i < r.length; i++, at += 4) {
    const whole = r[i] === r[i] && g[i] === g[i] && b[i] === b[i];
    out[at] = whole ? 255 * r[i] : 0;
    out[at + 1] = whole ? 255 * g[i] : 0;
    out[at + 2] = whole ? 255 * b[i] : 0;
    out[at + 3] = whole ? 255 : 0;
  }
}
