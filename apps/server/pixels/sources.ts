import { closeSync, openSync, readSync } from 'node:fs';
import { UserError, userMessageOf } from '@owl-loom/base/errors';
import { copyPlane } from '@owl-loom/image/raster/raster';
import { downsample2x, rectAtLevel, levelSize, TILE } from '@owl-loom/image/pyramid/pyramid';
import { intersect, isEmpty, type Rect, sameRect } from '@owl-loom/image/geometry/rect';
import { openFile } from '../codecs/open-file';
import { openImage } from '../codecs/image-file';
import { levelFile } from './pyramid-files';

/** Where a stack's pixels are; plain data, so that it can be sent to a worker. */
export type SourceSpec =
  | { readonly kind: 'fits'; readonly path: string; readonly name: string; readonly divisor: number }
  /** Whole planes in shared memory, full size. */
  | {
      readonly kind: 'memory';
      readonly width: number;
      readonly height: number;
      readonly planes: readonly Float32Array[];
    }
  /** A pyramid written at import: one file a level, tiles in rows, planes after each other. */
  | {
      readonly kind: 'pyramid';
      readonly dir: string;
      readonly width: number;
      readonly height: number;
      readonly planes: 1 | 3;
    };

/** Reads windows of a stack; no data outside it. */
export interface PixelSource {
  /**
   * @param rect in pixels of the level, 0 where none is said: full size
   * @param into room for the window, which is given back where it could be used
   */
  read(plane: number, rect: Rect, level?: number, into?: Float32Array): Promise<Float32Array>;
  close(): Promise<void>;
}

/** Fills a window from rows: what lies outside the picture stays no data. */
async function windowFromRows(
  width: number,
  height: number,
  rect: Rect,
  rows: (y: number, count: number) => Promise<Float32Array>,
): Promise<Float32Array> {
  const part = intersect(rect, { x: 0, y: 0, width, height });
  // Whole rows are what is read.
  if (sameRect(part, rect) && rect.width === width && rect.height > 0) return rows(rect.y, rect.height);
  const out = new Float32Array(rect.width * rect.height).fill(Number.NaN);
  if (isEmpty(part)) return out;
  const step = Math.max(1, Math.floor(2 ** 22 / width));
  for (let y = part.y; y < part.y + part.height; y += step) {
    const count = Math.min(step, part.y + part.height - y);
    copyPlane(await rows(y, count), { x: 0, y, width, height: count }, out, rect);
  }
  return out;
}

/** A window of a coarser level of what can be read at full size alone. */
async function halvedWindow(
  { width, height }: { width: number; height: number },
  rect: Rect,
  level: number,
  read: (full: Rect) => Promise<Float32Array>,
): Promise<Float32Array> {
  if (level === 0) return read(rect);
  const n = 2 ** level;
  const out = new Float32Array(rect.width * rect.height).fill(Number.NaN);
  const part = intersect(
    { x: n * rect.x, y: n * rect.y, width: n * rect.width, height: n * rect.height },
    { x: 0, y: 0, width, height },
  );
  if (isEmpty(part)) return out;
  let plane = await read(part);
  let [w, h] = [part.width, part.height];
  for (let l = 0; l < level; l++) {
    plane = downsample2x(plane, w, h);
    [w, h] = [levelSize(w, 1), levelSize(h, 1)];
  }
  copyPlane(plane, rectAtLevel(part, level), out, rect);
  return out;
}

async function fitsPixels(spec: Extract<SourceSpec, { kind: 'fits' }>): Promise<PixelSource> {
  const file = await openFile(spec.path, spec.name);
  const image = await openImage(file);
  return {
    read: (plane, rect, level = 0) =>
      halvedWindow(image, rect, level, (full) =>
        windowFromRows(image.width, image.height, full, (y, count) => image.readPixels(plane, y, count, spec.divisor)),
      ),
    close: () => file.close(),
  };
}

function memoryPixels(spec: Extract<SourceSpec, { kind: 'memory' }>): PixelSource {
  const whole = { x: 0, y: 0, width: spec.width, height: spec.height };
  return {
    read: (plane, rect, level = 0) =>
      halvedWindow(spec, rect, level, async (full) => {
        const out = new Float32Array(full.width * full.height).fill(Number.NaN);
        copyPlane(spec.planes[plane], whole, out, full);
        return out;
      }),
    close: async () => undefined,
  };
}

/** Byte offset of a tile in its level's file. */
export function tileOffset(width: number, height: number, plane: number, tx: number, ty: number): number {
  const across = Math.ceil(width / TILE);
  const down = Math.ceil(height / TILE);
  return ((plane * down + ty) * across + tx) * TILE * TILE * 4;
}

const missingPixelsError = (why: string): UserError =>
  new UserError('pixels-gone', `The pixels of a stack are missing on disk (${why}); import the file again.`);

/** Reads exactly as many bytes as fit. The threads that call it have nothing else to do meanwhile, and nothing is made anew for it. */
function readFull(file: number, bytes: Uint8Array, position: number): void {
  for (let done = 0; done < bytes.length; ) {
    const read = readSync(file, bytes, done, bytes.length - done, position + done);
    if (read === 0) throw missingPixelsError('a file is cut short');
    done += read;
  }
}

/** Rows of a tile on their way into a window. */
const tileRows = new Float32Array(TILE * TILE);

function pyramidPixels(spec: Extract<SourceSpec, { kind: 'pyramid' }>): PixelSource {
  const files = new Map<number, number>();
  const fileOf = (level: number): number => {
    const known = files.get(level);
    if (known !== undefined) return known;
    try {
      const file = openSync(`${spec.dir}/${levelFile(level)}`, 'r');
      files.set(level, file);
      return file;
    } catch (error) {
      throw missingPixelsError(userMessageOf(error));
    }
  };
  fileOf(0);
  return {
    async read(plane, rect, level = 0, into = new Float32Array(rect.width * rect.height)) {
      const file = fileOf(level);
      const [width, height] = [levelSize(spec.width, level), levelSize(spec.height, level)];
      const part = intersect(rect, { x: 0, y: 0, width, height });
      if (!sameRect(part, rect)) into.fill(Number.NaN);
      for (let ty = Math.floor(part.y / TILE); ty * TILE < part.y + part.height; ty++) {
        // Only the rows of the tile that are asked for, or a band would read every tile sixfold.
        const y0 = Math.max(part.y, ty * TILE);
        const rows = Math.min(part.y + part.height, (ty + 1) * TILE) - y0;
        const pixels = tileRows.subarray(0, rows * TILE);
        const bytes = new Uint8Array(pixels.buffer, 0, pixels.byteLength);
        for (let tx = Math.floor(part.x / TILE); tx * TILE < part.x + part.width; tx++) {
          readFull(file, bytes, tileOffset(width, height, plane, tx, ty) + (y0 - ty * TILE) * TILE * 4);
          copyPlane(pixels, { x: tx * TILE, y: y0, width: TILE, height: rows }, into, rect);
        }
      }
      return into;
    },
    close: async () => {
      for (const file of files.values()) closeSync(file);
      files.clear();
    },
  };
}

/** Opens a stack's pixels for reading. */
export async function openPixels(spec: SourceSpec): Promise<PixelSource> {
  switch (spec.kind) {
    case 'fits':
      return fitsPixels(spec);
    case 'memory':
      return memoryPixels(spec);
    case 'pyramid':
      return pyramidPixels(spec);
  }
}
