import type { Rect } from '../raster/rect';
import { type Coarse, cellsOf, cubic } from './grid';
import type { Simd } from './wasm';

/** `cellMeansPlain` of `./cells` in WebAssembly, in single precision where that one sums in double. */
export function cellMeansSimd(wasm: Simd, plane: Float32Array, rect: Rect, n: number): Coarse {
  const cells = cellsOf(rect, n);
  const { width } = rect;
  wasm.begin();
  const rowAt = wasm.room(width);
  const sumsAt = wasm.put(new Float32Array(width + 4));
  const countsAt = wasm.put(new Float32Array(width + 4));
  const outAt = wasm.room(cells.width);
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

/** `refinePlain` of `./cells` in WebAssembly, in single precision where that one sums in double. */
export function refineSimd(wasm: Simd, { n, rect, values }: Coarse, window: Rect): Float32Array {
  const { width } = window;
  // Between two middles a row is one cubic, whose weights hang alone on where in the gap a pixel lies.
  const half = n % 2 === 0 ? 0.5 : 0;
  const first = Math.floor((window.x + 0.5) / n - 0.5);
  const lead = window.x - Math.ceil((first + 0.5) * n - 0.5);
  const gaps = Math.ceil((lead + width) / n);
  wasm.begin();
  const weightsAt = wasm.put(Array.from({ length: n }, (_, i) => cubic((i + half) / n)).flat());
  const rowAt = wasm.room(gaps + 3);
  const outAt = wasm.room(width);
  const row = wasm.floats(rowAt, gaps + 3);
  const line = wasm.floats(outAt, width);
  const columns = Int32Array.from(row, (_, k) => Math.min(rect.width - 1, Math.max(0, first - rect.x - 1 + k)));
  const out = new Float32Array(width * window.height);
  const start = (y: number) => Math.min(rect.height - 1, Math.max(0, y)) * rect.width;
  for (let r = 0; r < window.height; r++) {
    const v = (window.y + r + 0.5) / n - 0.5 - rect.y;
    const foot = Math.floor(v);
    mixRows(values, columns, [start(foot - 1), start(foot), start(foot + 1), start(foot + 2)], cubic(v - foot), row);
    wasm.run.cubicRow(rowAt, weightsAt, n, lead, width, outAt);
    out.set(line, r * width);
  }
  return out;
}

/** Four rows of a grid, weighed, in the columns named. */
function mixRows(
  values: Float32Array,
  columns: Int32Array,
  starts: readonly number[],
  weights: readonly number[],
  out: Float32Array,
): void {
  const [a, b, c, d] = weights;
  const [ra, rb, rc, rd] = starts;
  for (let k = 0; k < out.length; k++) {
    const x = columns[k];
    out[k] = a * values[ra + x] + b * values[rb + x] + c * values[rc + x] + d * values[rd + x];
  }
}
