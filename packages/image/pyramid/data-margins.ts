import { planeMaxima } from '../kernels/extremes';
import { largestWithin } from './coverage';
import { borderNoData } from './border-pixels';
import type { Raster } from '../raster/raster';
import { isEmpty } from '../geometry/rect';

/** How far before each side of a rectangle an image ends, in its own pixels. */
export interface DataMargins {
  readonly left: number;
  readonly right: number;
  readonly bottom: number;
  readonly top: number;
}

/** Of an image that has data everywhere. */
export const NO_MARGINS: DataMargins = { left: 0, right: 0, bottom: 0, top: 0 };

/**
 * Where an image ends before the sides of its own rectangle: what lies outside the largest rectangle that nothing without data reaches into
 * from its edge. A hole inside is no end.
 * @returns undefined where it has no data at all
 */
export function dataMargins(
  image: Pick<Raster, 'rect'> & { readonly planes: readonly Float32Array[] },
): DataMargins | undefined {
  const { rect } = image;
  // Most images have data everywhere, which is told sooner.
  if (image.planes.every((plane) => planeMaxima(plane).count === plane.length)) return NO_MARGINS;
  const { width: w, height: h } = rect;
  const { mask, count } = borderNoData(image.planes, w, h);
  if (count === 0) return NO_MARGINS;
  const covered = largestWithin(w, h, (row, out) => {
    for (let x = 0; x < w; x++) out[x] = 1 - mask[row * w + x];
  });
  if (isEmpty(covered)) return undefined;
  const { x, y, width, height } = covered;
  return {
    left: x,
    right: w - x - width,
    bottom: y,
    top: h - y - height,
  };
}

/** Margins without data, in words: "6 px at the left, 4 px at the bottom"; undefined where the data reach all sides. */
export function describeMargins(ends: DataMargins): string | undefined {
  const parts = (['left', 'right', 'bottom', 'top'] as const)
    .filter((side) => ends[side] > 0)
    .map((side) => `${Math.round(ends[side])} px at the ${side}`);
  return parts.length > 0 ? parts.join(', ') : undefined;
}
