import { contains, intersect, isEmpty, type Rect } from '../geometry/rect';

/**
 * One plane (mono) or three (red, green, blue) of float32 pixels that lie at `rect`, rows from the foot up.
 * Every plane has `rect.width * rect.height` values; NaN is no data.
 */
export interface Raster {
  readonly rect: Rect;
  readonly planes: Float32Array[];
}

/** How many planes a raster has. */
export type PlaneCount = 1 | 3;

/** A plane of an image; of a mono one its only one, which counts as grey. */
export const planeOf = ({ planes }: Pick<Raster, 'planes'>, p: number): Float32Array =>
  planes[planes.length === 1 ? 0 : p];

/** A raster of the given size, every pixel `value` (0 where nothing is said). */
export function newRaster(rect: Rect, planes: PlaneCount, value = 0): Raster {
  const make = () => {
    const plane = new Float32Array(rect.width * rect.height);
    return value === 0 ? plane : plane.fill(value);
  };
  return { rect, planes: Array.from({ length: planes }, make) };
}

/**
 * Copies what two rasters share from `from` into `to`; the rest of `to` stays.
 * @param from plane of pixels lying at `fromRect`
 * @param to plane of pixels lying at `toRect`
 */
export function copyPlane(from: Float32Array, fromRect: Rect, to: Float32Array, toRect: Rect): void {
  const part = intersect(fromRect, toRect);
  if (isEmpty(part)) return;
  for (let row = 0; row < part.height; row++) {
    const source = (part.y + row - fromRect.y) * fromRect.width + (part.x - fromRect.x);
    const target = (part.y + row - toRect.y) * toRect.width + (part.x - toRect.x);
    to.set(from.subarray(source, source + part.width), target);
  }
}

/** The part of a plane that lies in `rect`; NaN where the plane has nothing. Shares memory where `rect` is one run of the plane's pixels. */
export function cropPlane(plane: Float32Array, planeRect: Rect, rect: Rect): Float32Array {
  if (contains(planeRect, rect) && (rect.height === 1 || rect.width === planeRect.width)) {
    const start = (rect.y - planeRect.y) * planeRect.width + rect.x - planeRect.x;
    return plane.subarray(start, start + rect.width * rect.height);
  }
  const out = new Float32Array(rect.width * rect.height).fill(Number.NaN);
  copyPlane(plane, planeRect, out, rect);
  return out;
}
