import { invert, mapRect } from '../../core/align/affine';
import { resample } from '../../core/kernels/lanczos';
import type { Rect } from '../../core/raster/rect';
import type { Recipe } from '../../core/recipe/schema';
import { placeMap, turnAndFlip } from '../../core/steps/place';
import { type SharedRaster, sharedRaster } from './shared';

export type Orientation = NonNullable<NonNullable<Recipe['cloth']>['orient']>;

/** Rows that are turned at a time. */
const ROWS = 128;

/** Whether nothing is to be turned. */
export const asItIs = ({ turn = 0, flip = 'none', degrees = 0 }: Orientation = {}): boolean =>
  turn === 0 && flip === 'none' && degrees === 0;

/**
 * A finished picture turned by quarters, flipped, then turned by a free angle about its middle; the same raster where nothing is asked. A free
 * turn keeps the size, and what turns in from outside has no data. Planes are turned one by one, so that only one more is held.
 */
export function orient(raster: SharedRaster, { turn = 0, flip = 'none', degrees = 0 }: Orientation = {}): SharedRaster {
  const quartered = turn === 0 && flip === 'none' ? raster : quarters(raster, turn, flip);
  return degrees === 0 ? quartered : freely(quartered, degrees);
}

function quarters(
  raster: SharedRaster,
  turn: 0 | 90 | 180 | 270,
  flip: 'none' | 'horizontal' | 'vertical',
): SharedRaster {
  const linear = { ...turnAndFlip(turn, flip), tx: 0, ty: 0 };
  const { width, height } = raster.rect;
  const box = mapRect(linear, { x: 0, y: 0, width, height });
  const rect = { x: 0, y: 0, width: box.width, height: box.height };
  const planes = raster.planes.map((plane) => {
    const out = sharedRaster(rect, 1).planes[0];
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const u = linear.xx * x + linear.xy * y - box.x;
        const v = linear.yx * x + linear.yy * y - box.y;
        out[v * rect.width + u] = plane[y * width + x];
      }
    }
    return out;
  });
  return { rect, planes };
}

function freely(raster: SharedRaster, degrees: number): SharedRaster {
  const { width, height } = raster.rect;
  const rect: Rect = { x: 0, y: 0, width, height };
  const back = invert(placeMap({ turn: 0, flip: 'none', degrees, dx: 0, dy: 0, size: 1 }, rect));
  const planes: SharedRaster['planes'][number][] = [];
  for (const plane of raster.planes) {
    const out = sharedRaster(rect, 1).planes[0];
    for (let y = 0; y < height; y += ROWS) {
      const rows = Math.min(ROWS, height - y);
      resample(plane, rect, back, out.subarray(y * width, (y + rows) * width), { x: 0, y, width, height: rows });
    }
    planes.push(out);
  }
  return { rect, planes };
}
