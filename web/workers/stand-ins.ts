import type { Raster } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';

/**
 * Takes an image off the one that it was made from, plane by plane: what is left is what was taken out between the two. Of a mono and a
 * colour image the mono one counts as grey.
 */
export function takenOff(raster: Raster, other: Raster): Raster {
  const planes = Math.max(raster.planes.length, other.planes.length);
  const of = ({ planes: own }: Raster, p: number): Float32Array => own[own.length === 1 ? 0 : p];
  return {
    rect: raster.rect,
    planes: Array.from({ length: planes }, (_, p) => {
      const [from, off] = [of(other, p), of(raster, p)];
      return from.map((v, i) => v - off[i]);
    }),
  };
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
