import type { Rect } from '@owl-loom/image/geometry/rect';
import { PIXEL_BYTES, type SharedRaster } from './shared-raster';

/** A plane may lie in memory that was made for one larger by so much. */
const ROOMY = 1.25;

/**
 * Memory for planes. Shared memory goes back to the system only when every thread has forgotten it, so using it again keeps the peak low; and
 * memory that was never touched is slow the first time, since the system clears it page by page.
 */
export class PlanePool {
  /** Idle memory, what came back last at the end. */
  private free: SharedArrayBuffer[] = [];

  /** @param room bytes that may lie idle at this moment */
  constructor(private readonly room: () => number) {}

  /** Bytes that lie idle. */
  get idle(): number {
    return this.free.reduce((sum, memory) => sum + memory.byteLength, 0);
  }

  /** Planes for a rectangle, of idle memory where there is any of the size; what stands in them is anything. */
  acquire(rect: Rect, planes: 1 | 3): SharedRaster {
    const size = rect.width * rect.height;
    return { rect, planes: Array.from({ length: planes }, () => new Float32Array(this.memoryFor(size), 0, size)) };
  }

  private memoryFor(size: number): SharedArrayBuffer {
    const bytes = size * PIXEL_BYTES;
    const fits = this.fits(bytes);
    const tightest = Math.min(...fits.map(({ byteLength }) => byteLength));
    const found = fits.findLast(({ byteLength }) => byteLength === tightest);
    if (!found) return new SharedArrayBuffer(bytes);
    this.free.splice(this.free.indexOf(found), 1);
    return found;
  }

  /** Takes back planes that no one reads any more. */
  release({ planes }: SharedRaster): void {
    for (const { buffer } of planes) if (buffer instanceof SharedArrayBuffer) this.free.push(buffer);
    this.trim();
  }

  /** How many planes of so many pixels there is memory for that would lie idle, up to a number; those that do already count. */
  missing(size: number, wanted: number): number {
    const bytes = size * PIXEL_BYTES;
    return Math.max(0, Math.min(wanted - this.fits(bytes).length, Math.floor((this.room() - this.idle) / bytes)));
  }

  /** How many planes of a rectangle there is idle memory for. */
  fitting({ width, height }: Rect): number {
    return this.fits(width * height * PIXEL_BYTES).length;
  }

  private fits(bytes: number): SharedArrayBuffer[] {
    return this.free.filter(({ byteLength }) => byteLength >= bytes && byteLength <= ROOMY * bytes);
  }

  /** Lets idle memory go, but that for planes of so many pixels; all of it where nothing is said. */
  clear(but?: number): void {
    this.free = but === undefined ? [] : this.fits(but * PIXEL_BYTES);
  }

  /** Lets go of what there is no room for, the oldest first. */
  trim(): void {
    let { idle } = this;
    while (idle > this.room()) idle -= this.free.shift()?.byteLength ?? idle;
  }
}
