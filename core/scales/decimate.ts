import type { Rect } from '../raster/rect';

/** A coarse grid over a plane: its cells are `n` pixels wide and begin at multiples of n, whatever window is looked at. */
export interface Coarse {
  readonly n: number;
  /** Cells, in units of n. */
  readonly rect: Rect;
  readonly values: Float32Array;
}

/** Means of square cells of n pixels, of what is there; NaN where nothing is. */
export function cellMeans(plane: Float32Array, rect: Rect, n: number): Coarse {
  const x = Math.floor(rect.x / n);
  const y = Math.floor(rect.y / n);
  const cells = { x, y, width: Math.ceil((rect.x + rect.width) / n) - x, height: Math.ceil((rect.y + rect.height) / n) - y };
  const sums = new Float64Array(cells.width * cells.height);
  const counts = new Uint32Array(sums.length);
  for (let r = 0; r < rect.height; r++) {
    const row = (Math.floor((rect.y + r) / n) - y) * cells.width;
    for (let c = 0; c < rect.width; c++) {
      const v = plane[r * rect.width + c];
      if (v !== v) continue;
      const at = row + Math.floor((rect.x + c) / n) - x;
      sums[at] += v;
      counts[at]++;
    }
  }
  return { n, rect: cells, values: Float32Array.from(sums, (sum, i) => (counts[i] > 0 ? sum / counts[i] : Number.NaN)) };
}

/** Weights of Catmull and Rom's cubic (1974) at a fraction between the middle two of four values. */
export function cubic(t: number): [number, number, number, number] {
  return [((-t + 2) * t - 1) * t * 0.5, ((3 * t - 5) * t * t + 2) * 0.5, ((-3 * t + 4) * t + 1) * t * 0.5, (t - 1) * t * t * 0.5];
}

/** The coarse values at every pixel of a window, by cubic interpolation between the cells' middles; at the grid's edge the last cell goes on. */
export function refine({ n, rect, values }: Coarse, window: Rect): Float32Array {
  const out = new Float32Array(window.width * window.height);
  const held = (v: number, length: number) => Math.min(length - 1, Math.max(0, v));
  // Columns repeat in every row: where they lie and how they weigh is worked out once.
  const columns = Array.from({ length: window.width }, (_, c) => {
    const u = (window.x + c + 0.5) / n - 0.5 - rect.x;
    const at = Math.floor(u);
    return { at: [-1, 0, 1, 2].map((k) => held(at + k, rect.width)), w: cubic(u - at) };
  });
  const row = new Float64Array(rect.width);
  for (let r = 0; r < window.height; r++) {
    const v = (window.y + r + 0.5) / n - 0.5 - rect.y;
    const at = Math.floor(v);
    const w = cubic(v - at);
    const rows = [-1, 0, 1, 2].map((k) => held(at + k, rect.height) * rect.width);
    for (let c = 0; c < rect.width; c++) row[c] = w[0] * values[rows[0] + c] + w[1] * values[rows[1] + c] + w[2] * values[rows[2] + c] + w[3] * values[rows[3] + c];
    for (let c = 0; c < window.width; c++) {
      const { at: k, w: u } = columns[c];
      out[r * window.width + c] = u[0] * row[k[0]] + u[1] * row[k[1]] + u[2] * row[k[2]] + u[3] * row[k[3]];
    }
  }
  return out;
}
