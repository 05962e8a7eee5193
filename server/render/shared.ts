import type { Rect } from '../../core/raster/rect';

/** Planes in shared memory that lie at `rect`, all of them no data to begin with. */
export interface SharedRaster {
  readonly rect: Rect;
  readonly planes: Float32Array[];
}

/** Shared planes for a rectangle; 4 bytes a pixel and plane. */
export function sharedRaster(rect: Rect, planes: 1 | 3): SharedRaster {
  const size = rect.width * rect.height;
  return { rect, planes: Array.from({ length: planes }, () => new Float32Array(new SharedArrayBuffer(size * 4))) };
}

/** Shared memory goes back to the system only when every thread has forgotten it; using it again keeps the peak low. */
export class Planes {
  private readonly spare: Float32Array[] = [];

  /** @param budget bytes that may lie idle */
  constructor(private readonly budget: number) {}

  /** Planes for a rectangle, of memory that an earlier image has left where there is any of the size; what stands in them is anything. */
  take(rect: Rect, planes: 1 | 3): SharedRaster {
    const size = rect.width * rect.height;
    return {
      rect,
      planes: Array.from({ length: planes }, () => {
        const at = this.spare.findIndex((plane) => plane.length === size);
        return at < 0 ? sharedRaster(rect, 1).planes[0] : this.spare.splice(at, 1)[0];
      }),
    };
  }

  /** Takes back planes that no one reads any more. */
  give({ planes }: SharedRaster): void {
    this.spare.push(...planes);
    let idle = this.spare.reduce((sum, plane) => sum + plane.byteLength, 0);
    while (idle > this.budget) idle -= this.spare.shift()?.byteLength ?? idle;
  }
}

/** Pixels that are read at a time. */
const PIECE = 2 ** 20;

/**
 * Fills shared planes piece by piece from rows.
 * @param read rows `y … y+rows−1` of a plane, counted from the raster's foot
 * @param told share that is there, after each piece; may throw to stop
 */
export async function fillRaster(
  raster: SharedRaster,
  read: (plane: number, y: number, rows: number) => Promise<Float32Array>,
  told?: (share: number) => void,
): Promise<SharedRaster> {
  const { width, height } = raster.rect;
  const step = Math.max(1, Math.floor(PIECE / width));
  for (const [p, plane] of raster.planes.entries()) {
    for (let y = 0; y < height; y += step) {
      plane.set(await read(p, y, Math.min(step, height - y)), y * width);
      told?.((p + y / height) / raster.planes.length);
    }
  }
  return raster;
}
