import { TILE, levelSize } from '@owl-loom/image/pyramid/pyramid';
import { copyPlane } from '@owl-loom/image/raster/raster';
import { type Rect, intersect, isEmpty } from '@owl-loom/image/geometry/rect';
import type { StackInfo } from '@owl-loom/engine/graph';

/** Bytes of tiles that each worker keeps: a few hundred of a megabyte each. */
const KEPT_BYTES = 288 * 2 ** 20;
/** Bytes of windows that are kept beside them. */
const WINDOW_BYTES = 64 * 2 ** 20;
const TILE_BYTES = TILE * TILE * 4;

/** Pauses between two looks at whether pixels have been made anew, ms; the last one goes on. */
const MENDING = [400, 800, 1500, 2500] as const;

/** Pixels that the server does not have. */
export class PixelsGone extends Error {}

/** What the server says of a tile that it does not give. */
async function refusalOf(response: Response): Promise<{ code?: string; message?: string }> {
  const body = (await response.json().catch(() => undefined)) as { error?: { code?: string; message?: string } };
  return body?.error ?? {};
}

/** Fetches a tile. One that was damaged is waited for: it is being made anew. */
async function fetchTile(address: string): Promise<Float32Array> {
  for (let tries = 0; ; tries++) {
    const response = await fetch(address);
    if (response.ok) return new Float32Array(await response.arrayBuffer());
    const { code, message } = await refusalOf(response);
    if (code === 'no-pixels') throw new PixelsGone(message);
    if (code !== 'pixels-mending')
      throw new Error(message ?? 'The pixels of a stack could not be fetched; is Owl Loom still running?');
    await new Promise((resolve) => setTimeout(resolve, MENDING[Math.min(tries, MENDING.length - 1)]));
  }
}

/** Fetches pyramid tiles and keeps the ones used last. Tiles never change, so the browser's own cache serves them again as well. */
export class Tiles {
  private readonly kept = new Map<string, Promise<Float32Array>>();

  /** Windows that were put together last: while a control moves, the same ones are asked for with every touch. */
  private readonly windows = new Map<string, Float32Array>();

  /** The pixels of a window of a level, NaN outside the stack. They are shared: nobody writes into them. */
  async window(stack: StackInfo, plane: number, level: number, rect: Rect): Promise<Float32Array> {
    const name = `${stack.id} ${plane} ${level} ${rect.x} ${rect.y} ${rect.width} ${rect.height}`;
    const known = this.windows.get(name);
    const pixels = known ?? (await this.together(stack, plane, level, rect));
    this.windows.delete(name);
    this.windows.set(name, pixels);
    let bytes = 0;
    for (const [other, { byteLength }] of [...this.windows].reverse()) {
      bytes += byteLength;
      if (bytes > WINDOW_BYTES) this.windows.delete(other);
    }
    return pixels;
  }

  private async together(stack: StackInfo, plane: number, level: number, rect: Rect): Promise<Float32Array> {
    const width = levelSize(stack.width, level);
    const height = levelSize(stack.height, level);
    const out = new Float32Array(rect.width * rect.height).fill(Number.NaN);
    const part = intersect(rect, { x: 0, y: 0, width, height });
    if (isEmpty(part)) return out;
    const placed = this.over(stack, plane, level, part).map(async ({ where, pixels }) =>
      copyPlane(await pixels, where, out, rect),
    );
    await Promise.all(placed);
    return out;
  }

  /** The tiles that a window of a level touches. */
  private over(stack: StackInfo, plane: number, level: number, part: Rect) {
    const tiles: { where: Rect; pixels: Promise<Float32Array> }[] = [];
    for (let ty = Math.floor(part.y / TILE); ty * TILE < part.y + part.height; ty++) {
      for (let tx = Math.floor(part.x / TILE); tx * TILE < part.x + part.width; tx++) {
        const where = { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE };
        tiles.push({ where, pixels: this.tile(stack, plane, level, tx, ty) });
      }
    }
    return tiles;
  }

  /** Has a window's tiles fetched that will be asked for in a moment; a fetch that fails is asked for again then. */
  ahead(stack: StackInfo, plane: number, level: number, rect: Rect): void {
    const [width, height] = [levelSize(stack.width, level), levelSize(stack.height, level)];
    this.over(stack, plane, level, intersect(rect, { x: 0, y: 0, width, height }));
  }

  private tile(stack: StackInfo, plane: number, level: number, tx: number, ty: number): Promise<Float32Array> {
    const address = `/api/pixels/${stack.id}/${stack.width}/${stack.height}/${level}/${plane}/${tx}/${ty}`;
    const known = this.kept.get(address);
    if (known) {
      this.kept.delete(address);
      this.kept.set(address, known);
      return known;
    }
    const fetching = fetchTile(address);
    // A tile that failed must be asked for again the next time.
    fetching.catch(() => this.kept.delete(address));
    this.kept.set(address, fetching);
    for (const oldest of this.kept.keys()) {
      if (this.kept.size * TILE_BYTES <= KEPT_BYTES) break;
      this.kept.delete(oldest);
    }
    return fetching;
  }
}
