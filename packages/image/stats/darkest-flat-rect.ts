import type { Rect } from '../geometry/rect';
import { medianOfList } from './median';
import { median } from './quantile';

/** Cells across the longer side of the picture, and the window's size in them. */
const CELLS = 36;
const WINDOW = { width: 5, height: 4 } as const;
/** Cells that lack more of their pixels than this do not count. */
const LACK = 0.02;

/**
 * Where the darkest even sky of a picture is: the window whose cells, in whichever plane they look worst, are the darkest and the most alike.
 * Levels are compared in units of the picture's own range, so that a faint filter has as much to say as a bright one.
 * @param planes of one size; no data is NaN
 * @returns in the planes' pixels; undefined where no window has data throughout
 */
export function darkestFlatRect(planes: readonly Float32Array[], width: number, height: number): Rect | undefined {
  const side = Math.max(2, Math.floor(Math.max(width, height) / CELLS));
  const columns = Math.floor(width / side);
  const rows = Math.floor(height / side);
  if (columns < WINDOW.width || rows < WINDOW.height) return undefined;
  const grids = planes.map((plane) => scaled(cellLevels(plane, width, side, columns, rows)));
  let best: { x: number; y: number; score: number } | undefined;
  for (let y = 0; y + WINDOW.height <= rows; y++) {
    for (let x = 0; x + WINDOW.width <= columns; x++) {
      const score = Math.max(...grids.map((grid) => windowScore(grid, columns, x, y)));
      if (Number.isFinite(score) && (!best || score < best.score)) best = { x, y, score };
    }
  }
  return best && { x: best.x * side, y: best.y * side, width: WINDOW.width * side, height: WINDOW.height * side };
}

function cellLevels(plane: Float32Array, width: number, side: number, columns: number, rows: number): Float64Array {
  const cell = new Float32Array(side * side);
  return Float64Array.from({ length: columns * rows }, (_, at) => {
    const [x0, y0] = [(at % columns) * side, Math.floor(at / columns) * side];
    let n = 0;
    for (let y = y0; y < y0 + side; y++) {
      for (let x = x0; x < x0 + side; x++) {
        const v = plane[y * width + x];
        if (v === v) cell[n++] = v;
      }
    }
    return n >= (1 - LACK) * side * side ? median(cell.subarray(0, n)) : Number.NaN;
  });
}

/** Levels with the darkest cell at 0 and the middle one at 1. */
function scaled(levels: Float64Array): Float64Array {
  const there = [...levels].filter(Number.isFinite);
  const low = Math.min(...there);
  const range = Math.max(medianOfList(there) - low, 1e-9);
  return levels.map((v) => (v - low) / range);
}

/** Mean level of a window and how much its cells differ; NaN where one has no data. */
function windowScore(grid: Float64Array, columns: number, x0: number, y0: number): number {
  let sum = 0;
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (let y = y0; y < y0 + WINDOW.height; y++) {
    for (let x = x0; x < x0 + WINDOW.width; x++) {
      const v = grid[y * columns + x];
      if (Number.isNaN(v)) return Number.NaN;
      sum += v;
      low = Math.min(low, v);
      high = Math.max(high, v);
    }
  }
  return sum / (WINDOW.width * WINDOW.height) + 0.5 * (high - low);
}
