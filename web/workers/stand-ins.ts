import type { Raster } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';

/** Takes an image off the one that it was made from, plane by plane: what is left is what was taken out between the two. */
export function takeOff(raster: Raster, other: Raster): void {
  raster.planes.forEach((plane, p) => {
    const from = other.planes[other.planes.length === 1 ? 0 : p];
    for (let i = 0; i < plane.length; i++) plane[i] = from[i] - plane[i];
  });
}

/** Takes away what lies outside a rectangle. */
export function cutTo(raster: Raster, rect: Rect): void {
  const { x, y, width, height } = raster.rect;
  for (const plane of raster.planes) {
    for (let r = 0; r < height; r++) {
      const inside = y + r >= rect.y && y + r < rect.y + rect.height;
      const from = inside ? Math.min(width, Math.max(0, rect.x - x)) : width;
      const to = inside ? Math.min(width, Math.max(0, rect.x + rect.width - x)) : width;
      plane.fill(Number.NaN, r * width, r * width + from);
      plane.fill(Number.NaN, r * width + Math.max(from, to), (r + 1) * width);
    }
  }
}
