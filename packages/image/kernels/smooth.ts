import { type ResidualOutput, smoothSimd } from './smooth-simd';
import { differencePlain } from './validity';
import { wasmKernels } from './wasm';

/**
 * Smoothing by a symmetric kernel, rows then columns. What lies outside the plane, and NaN, counts as absent: the weights of what is there
 * are brought back to 1 (normalised convolution).
 */

/** Half a symmetric kernel: the weight of the middle first, then outward; all of them together, both sides, sum to 1. */
export type Taps = Float64Array;

/** The B3 spline of the starlet (Starck & Murtagh 2006). */
export const B3: Taps = Float64Array.of(6 / 16, 4 / 16, 1 / 16);

/** Half a Gaussian of σ pixels, out to 4 σ. */
export function gaussianTaps(sigma: number): Taps {
  const reach = Math.max(1, Math.ceil(4 * sigma));
  const taps = Float64Array.from({ length: reach + 1 }, (_, k) => Math.exp(-0.5 * (k / sigma) ** 2));
  const sum = taps.reduce((a, b) => a + b, 0) * 2 - taps[0];
  return taps.map((w) => w / sum);
}

function smoothRows(
  source: Float32Array,
  width: number,
  height: number,
  taps: Taps,
  step: number,
  out: Float32Array,
): void {
  const reach = (taps.length - 1) * step;
  const inner = Math.max(0, width - reach);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const i = row + x;
      if (x >= reach && x < inner) {
        let sum = taps[0] * source[i];
        for (let k = 1, d = step; k < taps.length; k++, d += step) sum += taps[k] * (source[i - d] + source[i + d]);
        out[i] = sum;
        continue;
      }
      let sum = taps[0] * source[i];
      let weight = taps[0];
      for (let k = 1, d = step; k < taps.length; k++, d += step) {
        if (x - d >= 0) {
          sum += taps[k] * source[i - d];
          weight += taps[k];
        }
        if (x + d < width) {
          sum += taps[k] * source[i + d];
          weight += taps[k];
        }
      }
      out[i] = sum / weight;
    }
  }
}

function smoothColumns(
  source: Float32Array,
  width: number,
  height: number,
  taps: Taps,
  step: number,
  out: Float32Array,
): void {
  const sums = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let weight = taps[0];
    for (let x = 0; x < width; x++) sums[x] = taps[0] * source[row + x];
    for (let k = 1, d = step; k < taps.length; k++, d += step) {
      const w = taps[k];
      for (const other of [y - d, y + d]) {
        if (other < 0 || other >= height) continue;
        const at = other * width;
        weight += w;
        for (let x = 0; x < width; x++) sums[x] += w * source[at + x];
      }
    }
    for (let x = 0; x < width; x++) out[row + x] = sums[x] / weight;
  }
}

function plainSmooth(source: Float32Array, width: number, height: number, taps: Taps, step: number): Float32Array {
  const rows = new Float32Array(source.length);
  const out = new Float32Array(source.length);
  smoothRows(source, width, height, taps, step, rows);
  smoothColumns(rows, width, height, taps, step, out);
  return out;
}

/**
 * A plane smoothed by a symmetric kernel whose taps lie `step` pixels apart.
 * @param there 1 where the plane has data and 0 elsewhere; undefined where nothing is absent
 * @returns a value wherever something lies within the kernel's reach, also where the plane itself has none
 */
export function smooth(
  plane: Float32Array,
  width: number,
  height: number,
  taps: Taps,
  step = 1,
  there?: Float32Array,
): Float32Array {
  const wasm = wasmKernels();
  return wasm
    ? smoothSimd(wasm, plane, width, height, taps, step, there)
    : smoothPlain(plane, width, height, taps, step, there);
}

/**
 * {@link smooth}, and what it takes away: the plane less the smoothed one, NaN where there are no data.
 * @param apart its plane may be the one that is smoothed, which then is written over
 */
export function smoothWithResidual(
  plane: Float32Array,
  width: number,
  height: number,
  taps: Taps,
  step: number,
  there: Float32Array | undefined,
  apart: ResidualOutput,
): Float32Array {
  const wasm = wasmKernels();
  if (wasm) return smoothSimd(wasm, plane, width, height, taps, step, there, apart);
  const smoothed = smoothPlain(plane, width, height, taps, step, there);
  differencePlain(plane, smoothed, apart.where, apart.into);
  return smoothed;
}

/** {@link smooth} in plain TypeScript: what the WebAssembly is held to. */
export function smoothPlain(
  plane: Float32Array,
  width: number,
  height: number,
  taps: Taps,
  step: number,
  there: Float32Array | undefined,
): Float32Array {
  if (!there) return plainSmooth(plane, width, height, taps, step);
  const filled = plane.map((v, i) => (there[i] > 0 ? v : 0));
  const sums = plainSmooth(filled, width, height, taps, step);
  const weights = plainSmooth(there, width, height, taps, step);
  for (let i = 0; i < sums.length; i++) sums[i] = weights[i] > 1e-6 ? sums[i] / weights[i] : Number.NaN;
  return sums;
}
