import { median } from '../stats/quantile';

/** Every second pixel of every second row tells a cell's median as well as all of them: to a few hundredths of the noise. */
const EVERY = 2;

/**
 * A smooth background: medians of square cells, made continuous by straight lines between their centres.
 * @param cell side of a cell in pixels; larger than stars, smaller than nebulae
 * @returns the background at every pixel, 0 where no cell near has data
 */
export function background(values: Float32Array, width: number, height: number, cell = 48): Float32Array {
  const columns = Math.max(1, Math.round(width / cell));
  const rows = Math.max(1, Math.round(height / cell));
  const cw = width / columns;
  const ch = height / rows;
  const grid = new Float64Array(columns * rows);
  const part = new Float32Array(Math.ceil(cw / EVERY + 1) * Math.ceil(ch / EVERY + 1));
  for (let r = 0; r < rows; r++) {
    for (let c = 0; c < columns; c++) {
      let n = 0;
      for (let y = Math.floor(r * ch); y < Math.floor((r + 1) * ch); y += EVERY) {
        for (let x = Math.floor(c * cw); x < Math.floor((c + 1) * cw); x += EVERY) part[n++] = values[y * width + x];
      }
      grid[r * columns + c] = median(part.subarray(0, n));
    }
  }
  fillGaps(grid, columns, rows);
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = Math.min(rows - 1, Math.max(0, (y + 0.5) / ch - 0.5));
    const r0 = Math.floor(v);
    const r1 = Math.min(rows - 1, r0 + 1);
    for (let x = 0; x < width; x++) {
      const u = Math.min(columns - 1, Math.max(0, (x + 0.5) / cw - 0.5));
      const c0 = Math.floor(u);
      const c1 = Math.min(columns - 1, c0 + 1);
      const low = grid[r0 * columns + c0] + (grid[r0 * columns + c1] - grid[r0 * columns + c0]) * (u - c0);
      const high = grid[r1 * columns + c0] + (grid[r1 * columns + c1] - grid[r1 * columns + c0]) * (u - c0);
      out[y * width + x] = low + (high - low) * (v - r0);
    }
  }
  return out;
}

/** Cells without data take the mean of their neighbours that have some. */
function fillGaps(grid: Float64Array, columns: number, rows: number): void {
  for (let round = 0; round < columns + rows && grid.some(Number.isNaN); round++) {
    const before = grid.slice();
    for (let r = 0; r < rows; r++) {
      for (let c = 0; c < columns; c++) {
        if (!Number.isNaN(before[r * columns + c])) continue;
        let sum = 0;
        let n = 0;
        for (const [dr, dc] of [
          [-1, 0],
          [1, 0],
          [0, -1],
          [0, 1],
        ]) {
          const v = before[(r + dr) * columns + c + dc];
          if (r + dr < 0 || r + dr >= rows || c + dc < 0 || c + dc >= columns || Number.isNaN(v)) continue;
          sum += v;
          n++;
        }
        if (n > 0) grid[r * columns + c] = sum / n;
      }
    }
  }
  for (let i = 0; i < grid.length; i++) if (Number.isNaN(grid[i])) grid[i] = 0;
}
