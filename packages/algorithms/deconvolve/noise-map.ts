import { maskedDifference, validityMask } from '@owl-loom/image/kernels/validity';
import { upsample } from '@owl-loom/image/kernels/cells';
import { gridCells } from '@owl-loom/image/kernels/grid';
import { B3, smooth } from '@owl-loom/image/kernels/smooth';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { FINEST_SCALE_SIGMA } from '@owl-loom/image/stats/noise';
import { medianInPlace } from '@owl-loom/image/stats/quickselect';

/** Side of the cells of which each tells its noise; they begin at multiples of it, whatever window is looked at. */
const CELL = 16;
/** Pixels around a window that its noise hangs on: its cells, those beside them, and the surface through them. */
export const GRAIN_MARGIN = 4 * CELL;

/**
 * The noise of each pixel: light brings noise of its own, so a bright nebula has more of it than the sky. From the finest scale's middle
 * size cell by cell, the middle one of nine cells, so that stars do not count.
 * @param min noise of the sky: nowhere is it less
 */
export function noiseMap(plane: Float32Array, rect: Rect, min: number): Float32Array {
  const { width, height } = rect;
  const there = validityMask(plane);
  const fine = maskedDifference(plane, smooth(plane, width, height, B3, 1, there), plane);
  const cells = gridCells(rect, CELL);
  const own = new Float32Array(cells.width * cells.height).fill(Number.NaN);
  const room = new Float32Array(CELL * CELL);
  for (let cy = 0; cy < cells.height; cy++) {
    const [y0, y1] = [(cells.y + cy) * CELL - rect.y, (cells.y + cy + 1) * CELL - rect.y];
    for (let cx = 0; cx < cells.width; cx++) {
      const [x0, x1] = [(cells.x + cx) * CELL - rect.x, (cells.x + cx + 1) * CELL - rect.x];
      let n = 0;
      for (let y = Math.max(0, y0); y < Math.min(height, y1); y++)
        for (let x = Math.max(0, x0); x < Math.min(width, x1); x++) {
          const v = fine[y * width + x];
          if (v === v) room[n++] = Math.abs(v);
        }
      if (n >= 8) own[cy * cells.width + cx] = (1.4826 * medianInPlace(room.subarray(0, n))) / FINEST_SCALE_SIGMA;
    }
  }
  const values = own.map((_, k) => Math.max(min, middleAbout(own, cells, k) || 0));
  const out = upsample({ n: CELL, rect: cells, values }, rect);
  for (let i = 0; i < out.length; i++) out[i] = Math.max(min, out[i]);
  return out;
}

/** The middle one of a cell and those about it. */
function middleAbout(values: Float32Array, { width, height }: Rect, k: number): number {
  const [cx, cy] = [k % width, Math.floor(k / width)];
  const found: number[] = [];
  for (let y = Math.max(0, cy - 1); y <= Math.min(height - 1, cy + 1); y++)
    for (let x = Math.max(0, cx - 1); x <= Math.min(width - 1, cx + 1); x++) {
      const v = values[y * width + x];
      if (v === v) found.push(v);
    }
  return medianInPlace(Float32Array.from(found));
}
