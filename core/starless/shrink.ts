import { toLevel } from '../raster/levels';
import type { Raster } from '../raster/raster';
import { type Rect, union } from '../raster/rect';
import { eachNear, type Sorted } from './less';
import { valueAt } from './table';

/** The window of an image from which its stars in `rect` can be drawn in: each star's pixels come from further out. */
export function shrinkNeeds(rect: Rect, stars: readonly Sorted[], by: number, level: number): Rect {
  let needed = rect;
  for (const sorted of stars) {
    eachNear(sorted, rect, level, ({ x, y, reach }) => {
      const [cx, cy, r] = [toLevel(x, level), toLevel(y, level), (by * reach) / 2 ** level + 2];
      const [left, foot] = [Math.floor(cx - r), Math.floor(cy - r)];
      needed = union(needed, { x: left, y: foot, width: Math.ceil(cx + r) - left, height: Math.ceil(cy + r) - foot });
    });
  }
  return needed;
}

/** A raster's difference from another at a place between pixels; 0 where there is none. */
function between(a: Float32Array, b: Float32Array, rect: Rect, x: number, y: number): number {
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [u, v] = [x - i, y - j];
  const at = (px: number, py: number): number => {
    const [c, r] = [px - rect.x, py - rect.y];
    if (c < 0 || r < 0 || c >= rect.width || r >= rect.height) return 0;
    const d = a[r * rect.width + c] - b[r * rect.width + c];
    return d === d ? d : 0;
  };
  return (1 - v) * ((1 - u) * at(i, j) + u * at(i + 1, j)) + v * ((1 - u) * at(i, j + 1) + u * at(i + 1, j + 1));
}

/**
 * Lays each star onto the image without stars, drawn in towards its middle. Where stars overlap each counts by its light there.
 * @param bare the image without stars, on the same window as the image itself
 * @param by how much narrower a star becomes, from 1 on
 */
export function shrunkStars(
  bare: Raster,
  whole: Raster,
  out: Raster,
  stars: readonly Sorted[],
  by: number,
  level: number,
): void {
  const { rect } = out;
  const n = 2 ** level;
  out.planes.forEach((to, p) => {
    const sums = new Float64Array(to.length);
    const weights = new Float64Array(to.length);
    const [a, b] = [whole.planes[p], bare.planes[p]];
    eachNear(stars[Math.min(p, stars.length - 1)], rect, level, ({ x, y, table, reach }) => {
      const [cx, cy, r] = [toLevel(x, level), toLevel(y, level), reach / n];
      for (let j = Math.max(rect.y, Math.ceil(cy - r)); j <= Math.min(rect.y + rect.height - 1, cy + r); j++) {
        for (let i = Math.max(rect.x, Math.ceil(cx - r)); i <= Math.min(rect.x + rect.width - 1, cx + r); i++) {
          const d = Math.hypot(i - cx, j - cy);
          const weight = d < r ? valueAt(table, n * d) : 0;
          if (!(weight > 0)) continue;
          const at = (j - rect.y) * rect.width + i - rect.x;
          sums[at] += weight * between(a, b, whole.rect, cx + by * (i - cx), cy + by * (j - cy));
          weights[at] += weight;
        }
      }
    });
    for (let j = 0, at = 0; j < rect.height; j++) {
      const row = (rect.y + j - bare.rect.y) * bare.rect.width + rect.x - bare.rect.x;
      for (let i = 0; i < rect.width; i++, at++)
        to[at] = weights[at] > 0 ? b[row + i] + sums[at] / weights[at] : a[row + i];
    }
  });
}
