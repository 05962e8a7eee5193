import type { Rect } from '@owl-loom/image/geometry/rect';

/** Planes in shared memory that lie at `rect`, all of them no data to begin with. */
export interface SharedRaster {
  readonly rect: Rect;
  readonly planes: Float32Array[];
}

/** Bytes of a pixel of one plane. */
export const PIXEL_BYTES = Float32Array.BYTES_PER_ELEMENT;

/** Shared planes for a rectangle. */
export function sharedRaster(rect: Rect, planes: 1 | 3): SharedRaster {
  const bytes = rect.width * rect.height * PIXEL_BYTES;
  return { rect, planes: Array.from({ length: planes }, () => new Float32Array(new SharedArrayBuffer(bytes))) };
}

/** Rows that are read at a time: they hold about a million pixels. */
export const rowsAtOnce = (width: number): number => Math.max(1, Math.floor(2 ** 20 / width));

/**
 * Fills shared planes piece by piece from rows.
 * @param read rows `y … y+rows−1` of a plane, counted from the raster's foot
 * @param onProgress share that is there, after each piece; may throw to stop
 */
export async function fillRaster(
  raster: SharedRaster,
  read: (plane: number, y: number, rows: number) => Promise<Float32Array>,
  onProgress?: (share: number) => void,
): Promise<SharedRaster> {
  const { width, height } = raster.rect;
  const step = rowsAtOnce(width);
  for (const [p, plane] of raster.planes.entries()) {
    for (let y = 0; y < height; y += step) {
      plane.set(await read(p, y, Math.min(step, height - y)), y * width);
      onProgress?.((p + y / height) / raster.planes.length);
    }
  }
  return raster;
}
