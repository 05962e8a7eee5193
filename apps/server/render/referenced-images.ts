import type { Rect } from '@owl-loom/image/geometry/rect';
import type { CachedImage } from '../workers/image-cache';
import { type ImageRenderer, keyOfImage } from './image-renderer';
import type { WorkerPool } from '../workers/worker-pool';

/** An image of a graph, and where it is looked at. */
export interface ImageAt {
  readonly node: number;
  readonly rect: Rect;
}

/** Whole images that measurements are taken on, each held from when it is first wanted until the last measurement has looked at it. */
export class ReferencedImages {
  private readonly held = new Map<string, { image: ImageAt; made: Promise<CachedImage> }>();
  private readonly uses = new Map<string, number>();

  constructor(
    private readonly pool: WorkerPool,
    private readonly maker: ImageRenderer,
  ) {}

  /** One more measurement will look at it. */
  retain(image: ImageAt): void {
    const key = keyOfImage(image);
    this.uses.set(key, (this.uses.get(key) ?? 0) + 1);
  }

  has(image: ImageAt): boolean {
    return this.held.has(keyOfImage(image));
  }

  /** The image, made unless it is there. */
  acquire(image: ImageAt, priority: number): Promise<CachedImage> {
    const key = keyOfImage(image);
    const before = this.held.get(key);
    if (before) return before.made;
    const { node, rect } = image;
    const made = this.maker.acquire(node, rect, priority);
    this.held.set(key, { image, made });
    this.maker.heldBytes += this.maker.bytesOf(node, rect);
    return made;
  }

  /** A measurement has looked at it. */
  release(image: ImageAt): void {
    const key = keyOfImage(image);
    const left = (this.uses.get(key) ?? 1) - 1;
    this.uses.set(key, left);
    if (left <= 0) this.drop(key);
  }

  /** Lets go of what measurements have not come for, since one of them has failed. */
  clear(): void {
    for (const key of [...this.held.keys()]) this.drop(key);
    this.uses.clear();
  }

  private drop(key: string): void {
    const held = this.held.get(key);
    if (!held) return;
    const { node, rect } = held.image;
    this.held.delete(key);
    this.maker.heldBytes -= this.maker.bytesOf(node, rect);
    held.made.then(
      (made) => this.pool.images.release(made),
      // Whoever waited for it has been told.
      () => undefined,
    );
  }
}
