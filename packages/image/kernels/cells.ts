import type { Rect } from '../geometry/rect';
import { differencePlain } from './validity';
import { cellMeansSimd, refineSimd } from './cells-simd';
import { type CoarseGrid, gridCells, cubic } from './grid';
import type { ResidualOutput } from './smooth-simd';
import { wasmKernels } from './wasm';

/** Means of square cells of n pixels, of what is there; NaN where nothing is. */
export function blockMeans(plane: Float32Array, rect: Rect, n: number): CoarseGrid {
  const wasm = wasmKernels();
  return wasm ? cellMeansSimd(wasm, plane, rect, n) : cellMeansPlain(plane, rect, n);
}

/** {@link blockMeans} in plain TypeScript: what the WebAssembly is held to. */
export function cellMeansPlain(plane: Float32Array, rect: Rect, n: number): CoarseGrid {
  const cells = gridCells(rect, n);
  const sums = new Float64Array(cells.width * cells.height);
  const counts = new Uint32Array(sums.length);
  for (let r = 0; r < rect.height; r++) {
    const row = (Math.floor((rect.y + r) / n) - cells.y) * cells.width;
    for (let c = 0; c < rect.width; c++) {
      const v = plane[r * rect.width + c];
      if (v !== v) continue;
      const at = row + Math.floor((rect.x + c) / n) - cells.x;
      sums[at] += v;
      counts[at]++;
    }
  }
  return {
    n,
    rect: cells,
    values: Float32Array.from(sums, (sum, i) => (counts[i] > 0 ? sum / counts[i] : Number.NaN)),
  };
}

/** The coarse values at every pixel of a window, by cubic interpolation between the cells' middles; at the grid's edge the last cell goes on. */
export function upsample(coarse: CoarseGrid, window: Rect): Float32Array {
  const wasm = wasmKernels();
  return wasm ? refineSimd(wasm, coarse, window) : refinePlain(coarse, window);
}

/**
 * Takes what {@link upsample} gives from a plane of the window, in place.
 * @param less the plane, and the one that tells where data are: NaN where not
 */
export function subtractUpsampled(coarse: CoarseGrid, window: Rect, less: ResidualOutput): void {
  const wasm = wasmKernels();
  if (wasm) refineSimd(wasm, coarse, window, less);
  else differencePlain(less.into, refinePlain(coarse, window), less.where, less.into);
}

/** {@link upsample} in plain TypeScript: what the WebAssembly is held to. */
export function refinePlain({ n, rect, values }: CoarseGrid, window: Rect): Float32Array {
  const out = new Float32Array(window.width * window.height);
  for (let r = 0, i = 0; r < window.height; r++) {
    const v = (window.y + r + 0.5) / n - 0.5 - rect.y;
    const bottom = Math.floor(v);
    const wv = cubic(v - bottom);
    for (let c = 0; c < window.width; c++, i++) {
      const u = (window.x + c + 0.5) / n - 0.5 - rect.x;
      const left = Math.floor(u);
      const wu = cubic(u - left);
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const row = held(bottom - 1 + k, rect.height) * rect.width;
        for (let j = 0; j < 4; j++) sum += wv[k] * wu[j] * values[row + held(left - 1 + j, rect.width)];
      }
      out[i] = sum;
    }
  }
  return out;
}

const held = (v: number, length: number): number => Math.min(length - 1, Math.max(0, v));
