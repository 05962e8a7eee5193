import { planeOf, type Raster } from '@owl-loom/image/raster/raster';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { isInTurned } from '@owl-loom/image/geometry/turned';

/**
 * Takes an image off the one that it was made from, plane by plane: what is left is what was taken out between the two. Of a mono and a
 * colour image the mono one counts as grey.
 */
export function differenceOf(raster: Raster, other: Raster): Raster {
  const planes = Math.max(raster.planes.length, other.planes.length);
  return {
    rect: raster.rect,
    planes: Array.from({ length: planes }, (_, p) => {
      const [from, off] = [planeOf(other, p), planeOf(raster, p)];
      return from.map((v, i) => v - off[i]);
    }),
  };
}

/** An image without what lies outside a rectangle; its own pixels may be shared, and stay as they are. */
export function cropTo(raster: Raster, rect: Rect): Raster {
  const { x, y, width, height } = raster.rect;
  const planes = raster.planes.map((from) => {
    const plane = from.slice();
    for (let r = 0; r < height; r++) {
      const inside = y + r >= rect.y && y + r < rect.y + rect.height;
      const start = inside ? Math.min(width, Math.max(0, rect.x - x)) : width;
      const end = inside ? Math.min(width, Math.max(0, rect.x + rect.width - x)) : width;
      plane.fill(Number.NaN, r * width, r * width + start);
      plane.fill(Number.NaN, r * width + Math.max(start, end), (r + 1) * width);
    }
    return plane;
  });
  return { rect: raster.rect, planes };
}

/** An image without what lies outside a rectangle that stands upright in a picture turned by degrees; `rect` in full-size pixels. */
export function cutToTurned(raster: Raster, rect: Rect, degrees: number, level: number): Raster {
  const isInside = isInTurned(rect, degrees);
  const { x, y, width } = raster.rect;
  const planes = raster.planes.map((from) =>
    from.map((v, i) =>
      isInside(toFullSize(x + (i % width), level), toFullSize(y + Math.floor(i / width), level)) ? v : Number.NaN,
    ),
  );
  return { rect: raster.rect, planes };
}
