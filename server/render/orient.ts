import type { Recipe } from '../../core/recipe/schema';
import { mapRect } from '../../core/align/affine';
import { turnAndFlip } from '../../core/steps/place';
import { type SharedRaster, sharedRaster } from './shared';

type Orientation = NonNullable<NonNullable<Recipe['cloth']>['orient']>;

/** A finished picture turned and flipped; the same raster where nothing is asked. Planes are turned one by one, so that only one more is held. */
export function orient(raster: SharedRaster, orientation: Orientation = {}): SharedRaster {
  const { turn = 0, flip = 'none' } = orientation;
  if (turn === 0 && flip === 'none') return raster;
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
