import { compose, IDENTITY, invertAffine, mapRect } from '@owl-loom/image/geometry/affine';
import { resample } from '@owl-loom/image/kernels/lanczos';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import { placeMap, turnAndFlip } from '@owl-loom/engine/steps/place';
import { type SharedRaster, sharedRaster } from '../pixels/shared-raster';

export type Orientation = NonNullable<NonNullable<Recipe['cloth']>['orient']>;

/** Rows that are turned at a time. */
const ROWS = 128;

/** Whether nothing is to be turned. */
export const isIdentityOrientation = ({ turn = 0, flip = 'none', degrees = 0 }: Orientation = {}): boolean =>
  turn === 0 && flip === 'none' && degrees === 0;

/**
 * A finished picture turned by quarters, flipped, then turned by a free angle about the middle of what is shown; the same raster where nothing
 * is asked. What turns in from outside of the raster has no data. Planes are turned one by one, so that only one more is held.
 * @param cut what is shown, upright in the turned picture; all of the raster where it is left out
 */
export function orient(
  raster: SharedRaster,
  { turn = 0, flip = 'none', degrees = 0 }: Orientation = {},
  cut: Rect = raster.rect,
): SharedRaster {
  if (degrees !== 0) return rotateFreely(rotateQuarters(raster, turn, flip, cut), degrees);
  return turn === 0 && flip === 'none' ? raster : rotateQuarters(raster, turn, flip, cut).raster;
}

interface Quartered {
  readonly raster: SharedRaster;
  /** What is shown of it. */
  readonly cut: Rect;
}

function rotateQuarters(
  raster: SharedRaster,
  turn: 0 | 90 | 180 | 270,
  flip: NonNullable<Orientation['flip']>,
  cut: Rect,
): Quartered {
  const { x: left, y: bottom, width, height } = raster.rect;
  const linear = { ...turnAndFlip(turn, flip), tx: 0, ty: 0 };
  const box = mapRect(linear, { x: 0, y: 0, width, height });
  const shown = mapRect(linear, { ...cut, x: cut.x - left, y: cut.y - bottom });
  const own = { ...shown, x: shown.x - box.x, y: shown.y - box.y };
  const rect = { x: 0, y: 0, width: box.width, height: box.height };
  if (turn === 0 && flip === 'none') return { raster: { rect, planes: raster.planes }, cut: own };
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
  return { raster: { rect, planes }, cut: own };
}

function rotateFreely({ raster, cut }: Quartered, degrees: number): SharedRaster {
  const { width, height } = cut;
  const rect: Rect = { x: 0, y: 0, width, height };
  // From the turned picture back, then from what is shown to where that lies.
  const back = compose(invertAffine(placeMap({ turn: 0, flip: 'none', degrees, dx: 0, dy: 0, size: 1 }, rect)), {
    ...IDENTITY,
    tx: cut.x,
    ty: cut.y,
  });
  const planes: SharedRaster['planes'][number][] = [];
  for (const plane of raster.planes) {
    const out = sharedRaster(rect, 1).planes[0];
    for (let y = 0; y < height; y += ROWS) {
      const rows = Math.min(ROWS, height - y);
      resample(plane, raster.rect, back, out.subarray(y * width, (y + rows) * width), { x: 0, y, width, height: rows });
    }
    planes.push(out);
  }
  return { rect, planes };
}
