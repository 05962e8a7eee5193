import { gridCells } from '@owl-loom/image/kernels/grid';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { growMargin, morphDisc } from './morphology';

/** A disc wider than so many pixels is looked through cell by cell: pixel by pixel it would take minutes. */
const WIDE = 40;

/** Side of the cells for a disc of a radius, pixels. */
const cellFor = (radius: number): number => 2 ** Math.max(0, Math.ceil(Math.log2(radius / WIDE)));

/** Pixels about a window that {@link erodeDisc} looks at. */
export const leastMargin = (radius: number): number => growMargin(radius) + cellFor(radius);

/**
 * The least value within a disc about each pixel; of a wide one to within a cell, each the least of its pixels, laid at multiples of their side
 * whatever the window.
 */
export function erodeDisc(plane: Float32Array, rect: Rect, radius: number, window: Rect): Float32Array {
  const n = cellFor(radius);
  if (n === 1) return morphDisc(plane, rect, -radius, window);
  const cells = gridCells(rect, n);
  const min = new Float32Array(cells.width * cells.height).fill(Number.NaN);
  for (let y = 0, i = 0; y < rect.height; y++) {
    const row = (Math.floor((rect.y + y) / n) - cells.y) * cells.width - cells.x;
    for (let x = 0; x < rect.width; x++, i++) {
      const at = row + Math.floor((rect.x + x) / n);
      if (!(plane[i] >= min[at])) min[at] = plane[i] === plane[i] ? plane[i] : min[at];
    }
  }
  const inside = gridCells(window, n);
  const made = morphDisc(min, cells, -radius / n, inside);
  const out = new Float32Array(window.width * window.height);
  for (let y = 0, i = 0; y < window.height; y++) {
    const row = (Math.floor((window.y + y) / n) - inside.y) * inside.width - inside.x;
    for (let x = 0; x < window.width; x++, i++) out[i] = made[row + Math.floor((window.x + x) / n)];
  }
  return out;
}
