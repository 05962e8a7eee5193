import type { Rect } from '../raster/rect';
import { cellsOf } from './grid';

/** Pixels spread over coarse cells: sums of what they hold, and of the weights with which they count. */
export interface Spread {
  readonly n: number;
  /** Cells, in units of n. */
  readonly rect: Rect;
  readonly values: Float32Array;
  readonly weights: Float32Array;
}

/** Weights of a pixel in the cell before its own, its own and the one after, for each place within a cell: the quadratic B-spline. */
function weightsOf(n: number): Float64Array[] {
  const places = Array.from({ length: n }, (_, p) => (p + 0.5) / n - 0.5);
  return [
    Float64Array.from(places, (d) => (0.5 - d) ** 2 / 2),
    Float64Array.from(places, (d) => 0.75 - d * d),
    Float64Array.from(places, (d) => (0.5 + d) ** 2 / 2),
  ];
}

/** One row spread over cells; where `weigh` is set it is the weights of what is there. */
function spreadRow(
  row: Float32Array,
  lead: number,
  n: number,
  [before, own, after]: readonly Float64Array[],
  weigh: boolean,
  out: Float64Array,
): void {
  out.fill(0);
  for (let x = 0, cell = 1, p = lead; x < row.length; cell++, p = 0) {
    let [a, b, c] = [0, 0, 0];
    for (const end = Math.min(row.length, x + n - p); x < end; x++, p++) {
      const v = row[x];
      if (v !== v) continue;
      const value = weigh ? 1 : v;
      a += before[p] * value;
      b += own[p] * value;
      c += after[p] * value;
    }
    out[cell - 1] += a;
    out[cell] += b;
    out[cell + 1] += c;
  }
}

/**
 * Spreads each pixel over the nine cells about it by quadratic B-splines (variance n²/4 on either axis). Unlike plain means of cells this
 * leaves every pixel's light where it is: the middle of what it becomes is its own place.
 * @param n side of a cell; cells begin at multiples of it, whatever window is looked at
 */
export function spread(plane: Float32Array, rect: Rect, n: number): Spread {
  const own = cellsOf(rect, n);
  const cells = { x: own.x - 1, y: own.y - 1, width: own.width + 2, height: own.height + 2 };
  const values = new Float32Array(cells.width * cells.height);
  const weights = new Float32Array(values.length);
  const shares = weightsOf(n);
  const lead = rect.x - own.x * n;
  const line = new Float64Array(cells.width);
  const there = new Float64Array(cells.width);
  const whole = new Float64Array(cells.width);
  spreadRow(new Float32Array(rect.width), lead, n, shares, true, whole);
  for (let r = 0; r < rect.height; r++) {
    const row = plane.subarray(r * rect.width, (r + 1) * rect.width);
    spreadRow(row, lead, n, shares, false, line);
    const holed = row.some(Number.isNaN);
    if (holed) spreadRow(row, lead, n, shares, true, there);
    const counted = holed ? there : whole;
    const y = rect.y + r;
    const cell = Math.floor(y / n);
    const p = y - cell * n;
    for (let k = 0; k < 3; k++) {
      const share = shares[k][p];
      const at = (cell - 1 + k - cells.y) * cells.width;
      for (let c = 0; c < cells.width; c++) {
        values[at + c] += share * line[c];
        weights[at + c] += share * counted[c];
      }
    }
  }
  return { n, rect: cells, values, weights };
}
