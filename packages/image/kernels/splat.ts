import type { Rect } from '../geometry/rect';
import { validityMask } from './validity';
import { gridCells } from './grid';
import { wasmKernels } from './wasm';

/** Pixels spread over coarse cells: sums of what they hold, and of the weights with which they count. */
export interface SplatGrid {
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

/** Spreads rows in WebAssembly; for rows without holes. */
function rowsInKernels(width: number, lead: number, n: number, shares: readonly Float64Array[], cells: number) {
  const wasm = wasmKernels();
  if (!wasm) return undefined;
  wasm.resetArena();
  const [from, to] = [wasm.alloc(width), wasm.alloc(cells)];
  const weights = wasm.allocFrom(shares.flatMap((share) => [...share]));
  const floats = new Float32Array(wasm.run.memory.buffer);
  const made = floats.subarray(to / 4, to / 4 + cells);
  return (row: Float32Array): Float32Array => {
    floats.set(row, from / 4);
    wasm.run.spread(from, width, lead, n, weights, to, cells);
    return made;
  };
}

/**
 * Spreads each pixel over the nine cells about it by quadratic B-splines (variance n²/4 on either axis). Unlike plain means of cells this
 * leaves every pixel's light where it is: the middle of what it becomes is its own place.
 * @param n side of a cell; cells begin at multiples of it, whatever window is looked at
 */
export function splat(plane: Float32Array, rect: Rect, n: number): SplatGrid {
  const own = gridCells(rect, n);
  const cells = { x: own.x - 1, y: own.y - 1, width: own.width + 2, height: own.height + 2 };
  const values = new Float32Array(cells.width * cells.height);
  const weights = new Float32Array(values.length);
  const shares = weightsOf(n);
  const lead = rect.x - own.x * n;
  // Asked before the kernels' memory is laid out for the rows.
  const holed = validityMask(plane) !== undefined;
  const quick = rowsInKernels(rect.width, lead, n, shares, cells.width);
  const line = new Float64Array(cells.width);
  const there = new Float64Array(cells.width);
  const whole = new Float64Array(cells.width);
  const tall = new Float64Array(cells.height);
  spreadRow(new Float32Array(rect.width), lead, n, shares, true, whole);
  for (let r = 0; r < rect.height; r++) {
    const row = plane.subarray(r * rect.width, (r + 1) * rect.width);
    const hasHole = holed && isHoled(row);
    let sums: Float32Array | Float64Array = line;
    if (quick && !hasHole) sums = quick(row);
    else spreadRow(row, lead, n, shares, false, line);
    if (hasHole) spreadRow(row, lead, n, shares, true, there);
    const counted = hasHole ? there : whole;
    const y = rect.y + r;
    const cell = Math.floor(y / n);
    const p = y - cell * n;
    for (let k = 0; k < 3; k++) {
      const share = shares[k][p];
      const at = (cell - 1 + k - cells.y) * cells.width;
      for (let c = 0; c < cells.width; c++) values[at + c] += share * sums[c];
      if (holed) for (let c = 0; c < cells.width; c++) weights[at + c] += share * counted[c];
      else tall[cell - 1 + k - cells.y] += share;
    }
  }
  // Without holes the weights of a cell are those of its column times those of its row.
  if (!holed)
    for (let i = 0; i < weights.length; i++) weights[i] = whole[i % cells.width] * tall[Math.floor(i / cells.width)];
  return { n, rect: cells, values, weights };
}

function isHoled(row: Float32Array): boolean {
  for (let x = 0; x < row.length; x++) if (row[x] !== row[x]) return true;
  return false;
}
