import type { StackInfo } from '@owl-loom/engine/graph';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { PixelsGone, Tiles } from './tiles';

/** What holds for every recipe that is open, since it goes by what images are made of: pixels, measurements, proofs. */
export class SharedWorkerState {
  readonly tiles = new Tiles();
  readonly figures = new Map<string, Measurement>();
  /** Why measurements cannot be measured, by key. */
  readonly failed = new Map<string, string>();
  /** A number for every measurement that was ever used: images made with another one are other images. */
  private readonly serials = new WeakMap<Measurement, number>();
  private serial = 0;
  /** Pictures that lie on the server at their true full size, by name. */
  readonly proofs = new Set<string>();

  serialOf(figure: Measurement): number {
    const known = this.serials.get(figure) ?? ++this.serial;
    this.serials.set(figure, known);
    return known;
  }
  /** A window of a level of an image that has been proven; undefined where the server has it no more: it is then proven no longer. */
  async proven(pyramid: StackInfo, rect: Rect, level: number): Promise<Raster | undefined> {
    const windows = Array.from({ length: pyramid.planes }, (_, p) => this.tiles.window(pyramid, p, level, rect));
    try {
      return { rect, planes: await Promise.all(windows) };
    } catch (error) {
      if (!(error instanceof PixelsGone)) throw error;
      this.proofs.delete(pyramid.id);
      return undefined;
    }
  }
}
