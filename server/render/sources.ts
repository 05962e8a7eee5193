import { UserError, sentenceOf } from '../../core/errors';
import { copyPlane } from '../../core/raster/raster';
import { TILE, levelSize } from '../../core/raster/levels';
import { intersect, isEmpty, type Rect, sameRect } from '../../core/raster/rect';
import { openFile } from '../io/bytes';
import { openImage } from '../io/image-file';

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

/** Reads windows of a stack at full size; no data outside it. */
export interface PixelSource {
  read(plane: number, rect: Rect): Promise<Float32Array>;
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

async function fitsPixels(spec: Extract<SourceSpec, { kind: 'fits' }>): Promise<PixelSource> {
  const file = await openFile(spec.path, spec.name);
  const image = await openImage(file);
  return {
    read: (plane, rect) =>
      windowFromRows(image.width, image.height, rect, (y, count) => image.readPixels(plane, y, count, spec.divisor)),
    close: () => file.close(),
  };
}

function memoryPixels(spec: Extract<SourceSpec, { kind: 'memory' }>): PixelSource {
  const whole = { x: 0, y: 0, width: spec.width, height: spec.height };
  return {
    async read(plane, rect) {
      const out = new Float32Array(rect.width * rect.height).fill(Number.NaN);
      copyPlane(spec.planes[plane], whole, out, rect);
      return out;
    },
    close: async () => undefined,
  };
}

/** Name of a level's file in a pyramid's folder. */
export const levelFile = (level: number): string => `level-${level}.f32`;

/** Byte offset of a tile in its level's file. */
export function tileOffset(width: number, height: number, plane: number, tx: number, ty: number): number {
  const across = Math.ceil(width / TILE);
  const down = Math.ceil(height / TILE);
  return ((plane * down + ty) * across + tx) * TILE * TILE * 4;
}

async function pyramidPixels(spec: Extract<SourceSpec, { kind: 'pyramid' }>): Promise<PixelSource> {
  const file = await openFile(`${spec.dir}/${levelFile(0)}`);
  const width = levelSize(spec.width, 0);
  const height = levelSize(spec.height, 0);
  return {
    async read(plane, rect) {
      const out = new Float32Array(rect.width * rect.height).fill(Number.NaN);
      const part = intersect(rect, { x: 0, y: 0, width, height });
      if (isEmpty(part)) return out;
      for (let ty = Math.floor(part.y / TILE); ty * TILE < part.y + part.height; ty++) {
        // Only the rows of the tile that are asked for, or a band would read every tile sixfold.
        const y0 = Math.max(part.y, ty * TILE);
        const rows = Math.min(part.y + part.height, (ty + 1) * TILE) - y0;
        for (let tx = Math.floor(part.x / TILE); tx * TILE < part.x + part.width; tx++) {
          const at = tileOffset(width, height, plane, tx, ty) + (y0 - ty * TILE) * TILE * 4;
          const bytes = await file.read(at, rows * TILE * 4);
          copyPlane(
            new Float32Array(bytes.buffer, bytes.byteOffset, rows * TILE),
            { x: tx * TILE, y: y0, width: TILE, height: rows },
            out,
            rect,
          );
        }
      }
      return out;
    },
    close: () => file.close(),
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
      return pyramidPixels(spec).catch((fault: unknown) => {
        throw new UserError(
          'pixels-gone',
          `The pixels of a stack are missing on disk (${sentenceOf(fault)}); import the file again.`,
        );
      });
  }
}
