import type { TallyMap } from '@owl-loom/engine/evaluator';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { PlanePool } from '../pixels/plane-pool';
import { PIXEL_BYTES, type SharedRaster } from '../pixels/shared-raster';

/** Counts of pixels by the hash of the node that they were counted in. */
export type TallyByHash = ReadonlyMap<string, TallyMap extends Map<number, infer C> ? C : never>;

/** An image that was made whole and may be read again: by a later measurement, by the picture, by the next job on the same recipe. */
export interface CachedImage {
  readonly hash: string;
  readonly raster: SharedRaster;
  /** What was counted while it was made. */
  readonly counted: TallyByHash;
}

interface Entry extends CachedImage {
  readonly name: string;
  readonly bytes: number;
  /** Readers at work: what they read stays as it is. */
  pins: number;
}

/** Bytes of memory that may lie idle however many images are kept, waiting for the next. */
const SPARE = 192 * 2 ** 20;

const nameOf = (hash: string, { x, y, width, height }: Rect): string => `${hash} ${x} ${y} ${width} ${height}`;

const covers = (whole: Rect, part: Rect): boolean =>
  whole.x <= part.x &&
  whole.y <= part.y &&
  whole.x + whole.width >= part.x + part.width &&
  whole.y + whole.height >= part.y + part.height;

/**
 * Images in shared memory, by the hash of what they show. Those that nobody reads stay as long as there is room; the one read longest ago
 * goes first. Their planes are used again.
 */
export class ImageCache {
  readonly spare: PlanePool;
  /** In the order of their last use. */
  private readonly entries = new Map<string, Entry>();

  /** @param budget bytes for images that nobody reads, and for memory that waits for the next */
  constructor(private readonly budget: number) {
    this.spare = new PlanePool(() => Math.max(Math.min(budget, SPARE), budget - this.evictableBytes));
  }

  /** Bytes of images that nobody reads. */
  get evictableBytes(): number {
    let sum = 0;
    for (const { pins, bytes } of this.entries.values()) if (pins === 0) sum += bytes;
    return sum;
  }

  /** Planes for an image to come. Where there is no memory for it, images that nobody reads make room now and not after, so that it is theirs. */
  take(rect: Rect, planes: 1 | 3): SharedRaster {
    const { spare } = this;
    if (spare.fitting(rect) < planes)
      this.shrink(Math.max(0, this.budget - rect.width * rect.height * planes * PIXEL_BYTES));
    return spare.acquire(rect, planes);
  }

  /** An image of just this place, held until it is let go. */
  acquire(hash: string, rect: Rect): CachedImage | undefined {
    return this.pinned(nameOf(hash, rect));
  }

  /** An image that holds all of a place, held until it is let go. */
  holdCovering(hash: string, part: Rect): CachedImage | undefined {
    for (const [name, entry] of this.entries)
      if (entry.hash === hash && covers(entry.raster.rect, part)) return this.pinned(name);
    return undefined;
  }

  /** Keeps an image newly made, held by as many as wait for it. */
  keep(image: CachedImage, waiting: number): CachedImage {
    const name = nameOf(image.hash, image.raster.rect);
    const bytes = image.raster.planes.reduce((sum, plane) => sum + plane.byteLength, 0);
    const entry: Entry = { ...image, name, bytes, pins: waiting };
    // Of two makers of one image the first is kept, the other's lives as long as its readers.
    if (!this.entries.has(name)) this.entries.set(name, entry);
    return entry;
  }

  /** Lets an image go that was held. */
  release(image: CachedImage): void {
    const entry = image as Entry;
    entry.pins--;
    if (entry.pins > 0) return;
    if (this.entries.get(entry.name) === entry) this.shrink(this.budget);
    else this.spare.release(entry.raster);
    this.spare.trim();
  }

  /** Forgets images that nobody reads until no more than so many bytes of them are left. */
  shrink(bytes: number): void {
    let idle = this.evictableBytes;
    for (const [name, entry] of this.entries) {
      if (idle <= bytes) return;
      if (entry.pins > 0) continue;
      this.entries.delete(name);
      idle -= entry.bytes;
      this.spare.release(entry.raster);
    }
  }

  private pinned(name: string): CachedImage | undefined {
    const entry = this.entries.get(name);
    if (!entry) return undefined;
    entry.pins++;
    this.entries.delete(name);
    this.entries.set(name, entry);
    return entry;
  }
}
