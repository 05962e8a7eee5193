import type { Raster } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';

/** Bytes of finished strands that are kept: some dozens of windows as large as the screen. */
const KEPT_BYTES = 256 * 2 ** 20;

const bytesOf = ({ planes }: Raster): number => planes.reduce((sum, plane) => sum + plane.byteLength, 0);

const covers = (outer: Rect, inner: Rect): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;

/**
 * Strands that were made a moment ago. While a slider moves at one place of a recipe, all that comes before it stays as it is and need not be
 * made again. Names are the images' hashes, which hold all that their pixels depend on but the figures: when those change, it must be emptied.
 */
export class StrandCache {
  private readonly kept = new Map<string, Raster>();
  private bytes = 0;

  /** A kept image whose pixels reach over a window; it may be larger. */
  get(hash: string, level: number, window: Rect): Raster | undefined {
    const key = `${hash} ${level}`;
    const found = this.kept.get(key);
    if (!found || !covers(found.rect, window)) return undefined;
    // Read last, so thrown away last.
    this.kept.delete(key);
    this.kept.set(key, found);
    return found;
  }

  put(hash: string, level: number, raster: Raster): void {
    const key = `${hash} ${level}`;
    this.drop(key);
    this.kept.set(key, raster);
    this.bytes += bytesOf(raster);
    for (const oldest of this.kept.keys()) {
      if (this.bytes <= KEPT_BYTES || oldest === key) break;
      this.drop(oldest);
    }
  }

  clear(): void {
    this.kept.clear();
    this.bytes = 0;
  }

  private drop(key: string): void {
    const found = this.kept.get(key);
    if (!found) return;
    this.kept.delete(key);
    this.bytes -= bytesOf(found);
  }
}
