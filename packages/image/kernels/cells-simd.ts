import type { Rect } from '../geometry/rect';
import type { ResidualOutput } from './smooth-simd';
import { type CoarseGrid, gridCells, cubic } from './grid';
import type { WasmKernels } from './wasm';

/** `cellMeansPlain` of `./cells` in WebAssembly, in single precision where that one sums in double. */
export function cellMeansSimd(wasm: WasmKernels, plane: Float32Array, rect: Rect, n: number): CoarseGrid {
  const cells = gridCells(rect, n);
  const { width } = rect;
  wasm.resetArena();
  const rowAt = wasm.alloc(width);
  const sumsAt = wasm.allocFrom(new Float32Array(width + 4));
  const countsAt = wasm.allocFrom(new Float32Array(width + 4));
  const outAt = wasm.alloc(cells.width);
  const row = wasm.floats(rowAt, width);
  const out = wasm.floats(outAt, cells.width);
  const values = new Float32Array(cells.width * cells.height);
  for (let r = 0; r < rect.height; r++) {
    row.set(plane.subarray(r * width, (r + 1) * width));
    wasm.run.gather(rowAt, width, sumsAt, countsAt);
    const next = rect.y + r + 1;
    if (next % n !== 0 && r + 1 < rect.height) continue;
    wasm.run.means(sumsAt, countsAt, width, n, rect.x - cells.x * n, outAt);
    values.set(out, (Math.floor((rect.y + r) / n) - cells.y) * cells.width);
  }
  return { n, rect: cells, values };
}

/** `refinePlain` and `refineLess` of `./cells` in WebAssembly, in single precision where that one sums in double. */
export function refineSimd(
  wasm: WasmKernels,
  { n, rect, values }: CoarseGrid,
  window: Rect,
  less?: ResidualOutput,
): Float32Array {
  const { width } = window;
  // Between two middles a row is one cubic, whose weights hang alone on where in the gap a pixel lies.
  const half = n % 2 === 0 ? 0.5 : 0;
  const first = Math.floor((window.x + 0.5) / n - 0.5);
  const lead = window.x - Math.ceil((first + 0.5) * n - 0.5);
  const gaps = Math.ceil((lead + width) / n);
  wasm.resetArena();
  const padded = 4 * Math.ceil(n / 4);
  const weights = Array.from({ length: padded }, (_, i) => cubic((i + half) / n));
  const weightsAt = wasm.allocFrom([0, 1, 2, 3].flatMap((k) => weights.map((w) => w[k])));
  const cells = gaps + 3;
  const rowAt = wasm.alloc(cells);
  const outAt = wasm.alloc(gaps * n + padded);
  const fromAt = wasm.alloc(width);
  const whereAt = wasm.alloc(width);
  const pointersAt = wasm.alloc(4);
  const sharesAt = wasm.alloc(4);
  const low = Math.floor((window.y + 0.5) / n - 0.5) - 1;
  const high = Math.floor((window.y + window.height - 0.5) / n - 0.5) + 2;
  const gridAt = wasm.alloc(cells * (high - low + 1));
  const grid = wasm.floats(gridAt, cells * (high - low + 1));
  const held = (v: number, length: number) => Math.min(length - 1, Math.max(0, v));
  for (let k = 0, y = low; y <= high; y++) {
    const row = held(y - rect.y, rect.height) * rect.width;
    for (let x = 0; x < cells; x++, k++) grid[k] = values[row + held(first - rect.x - 1 + x, rect.width)];
  }
  const from = wasm.floats(fromAt, width);
  const where = wasm.floats(whereAt, width);
  const line = wasm.floats(outAt + 4 * lead, width);
  const pointers = new Uint32Array(wasm.run.memory.buffer, pointersAt, 4);
  const shares = wasm.floats(sharesAt, 4);
  const holed = less && less.where !== less.into;
  const out = less?.into ?? new Float32Array(width * window.height);
  for (let r = 0; r < window.height; r++) {
    const v = (window.y + r + 0.5) / n - 0.5;
    const bottom = Math.floor(v);
    shares.set(cubic(v - bottom));
    for (let k = 0; k < 4; k++) pointers[k] = gridAt + 4 * cells * (bottom - 1 + k - low);
    wasm.run.columns(pointersAt, sharesAt, 4, cells, 1, rowAt);
    wasm.run.cubicRow(rowAt, weightsAt, n, gaps, outAt);
    if (less) {
      from.set(less.into.subarray(r * width, (r + 1) * width));
      if (holed) where.set(less.where.subarray(r * width, (r + 1) * width));
      wasm.run.difference(fromAt, outAt + 4 * lead, holed ? whereAt : fromAt, width);
    }
    out.set(less ? from : line, r * width);
  }
  return out;
}
