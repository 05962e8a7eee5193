import { createHash } from 'node:crypto';
import { closeSync, fsyncSync, openSync, readSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { crc32 } from 'node:zlib';
import { setNoData, borderZeros } from '@owl-loom/image/pyramid/border-pixels';
import { type DataMargins, dataMargins } from '@owl-loom/image/pyramid/data-margins';
import { downsample2x, levelCount, levelSize, TILE } from '@owl-loom/image/pyramid/pyramid';
import { copyPlane } from '@owl-loom/image/raster/raster';
import { detectStarField } from '@owl-loom/algorithms/stars/field';
import { type PackedField, pack } from '@owl-loom/algorithms/stars/packed';
import { type ImportStatistics, importStatistics } from '@owl-loom/image/stats/import-statistics';
import { type PyramidPart, levelFile } from './pyramid-files';
import { tileOffset } from './sources';

/** Bytes that are hashed at a time. */
const CHUNK = 2 ** 22;

/** The SHA-256 of a file, in hexadecimal. */
export function hash({ path }: { path: string }): string {
  const sum = createHash('sha256');
  const chunk = new Uint8Array(CHUNK);
  const file = openSync(path, 'r');
  try {
    for (let read = -1; read !== 0; ) {
      read = readSync(file, chunk, 0, CHUNK, null);
      sum.update(chunk.subarray(0, read));
    }
  } finally {
    closeSync(file);
  }
  return sum.digest('hex');
}

/** Zeros joined to the edge: how many there are, taken for no data where asked; and where the image ends, which may be nowhere. */
export function findBorders(task: { planes: readonly Float32Array[]; width: number; height: number; blank: boolean }): {
  zeros: number;
  ends: DataMargins | null;
} {
  const { planes, width, height } = task;
  const { mask, count } = borderZeros(planes, width, height);
  if (task.blank) setNoData(planes, mask);
  return { zeros: count, ends: dataMargins({ rect: { x: 0, y: 0, width, height }, planes }) ?? null };
}

/** Writes all of a buffer at a place of a file; a disk that is full must be said, not passed by. */
function writeAll(file: number, bytes: Uint8Array, position: number): void {
  for (let done = 0; done < bytes.length; ) {
    const written = writeSync(file, bytes, done, bytes.length - done, position + done);
    if (written === 0) throw Object.assign(new Error('nothing more can be written'), { code: 'ENOSPC' });
    done += written;
  }
}

/**
 * Writes one plane of a picture into levels of its pyramid, each half of the one before, in tiles.
 * @param task.index which of the picture's planes it is
 * @returns the CRC-32 of its tiles, a list for each level that was written
 */
export function writeLevels(task: {
  dir: string;
  plane: Float32Array;
  index: number;
  width: number;
  height: number;
  part: PyramidPart;
  /** Waits until it lies on the disk and not only in the system's memory. */
  lasting: boolean;
}): number[][] {
  const { dir, index, part } = task;
  let { plane, width, height } = task;
  const tile = new Float32Array(TILE * TILE);
  const bytes = new Uint8Array(tile.buffer);
  const sums: number[][] = [];
  const [first, count] = part === 'full' ? [0, 1] : [1, levelCount(width, height)];
  for (let level = first; level < count; level++) {
    if (level > 0) {
      plane = downsample2x(plane, width, height);
      [width, height] = [levelSize(task.width, level), levelSize(task.height, level)];
    }
    const own: number[] = [];
    sums.push(own);
    const file = openSync(join(dir, levelFile(level)), 'r+');
    try {
      const whole = { x: 0, y: 0, width, height };
      for (let ty = 0; ty * TILE < height; ty++) {
        for (let tx = 0; tx * TILE < width; tx++) {
          const place = { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE };
          if (place.x + TILE > width || place.y + TILE > height) tile.fill(Number.NaN);
          copyPlane(plane, whole, tile, place);
          own.push(crc32(bytes));
          writeAll(file, bytes, tileOffset(width, height, index, tx, ty));
        }
      }
      if (task.lasting) fsyncSync(file);
    } finally {
      closeSync(file);
    }
  }
  return sums;
}

/** All that is told of a plane as it comes in, and its stars. */
export function measurePlane(task: {
  plane: Float32Array;
  width: number;
  height: number;
  stretched: boolean;
}): ImportStatistics & {
  stars: PackedField;
} {
  const { plane, width, height, stretched } = task;
  return { ...importStatistics(plane, width, height, stretched), stars: pack(detectStarField(plane, width, height)) };
}
