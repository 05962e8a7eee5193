import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, open, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { TILE, levelCount, levelSize } from '../../core/raster/levels';
import { copyPlane } from '../../core/raster/raster';
import type { Pool } from './pool';
import { levelFile } from './sources';

/** Folder of a pyramid; the id comes from a hash, never from a request unchecked. */
export const pyramidDir = (root: string, id: string): string => join(root, 'pixels', id);

/** What a pixel id looks like. */
export const PIXEL_ID = /^[0-9a-f]{32}$/;

async function writeLevel(path: string, planes: readonly Float32Array[], width: number, height: number): Promise<void> {
  const file = await open(path, 'w');
  try {
    const tile = new Float32Array(TILE * TILE);
    const bytes = new Uint8Array(tile.buffer);
    for (const plane of planes) {
      for (let ty = 0; ty * TILE < height; ty++) {
        for (let tx = 0; tx * TILE < width; tx++) {
          tile.fill(Number.NaN);
          copyPlane(plane, { x: 0, y: 0, width, height }, tile, {
            x: tx * TILE,
            y: ty * TILE,
            width: TILE,
            height: TILE,
          });
          await file.write(bytes);
        }
      }
    }
    await file.sync();
  } finally {
    await file.close();
  }
}

/**
 * Writes the levels of a picture, each half of the one before, in tiles of 512 pixels; the folder appears only when it is whole.
 * @param planes at full size, in shared memory
 */
export async function writePyramid(
  pool: Pool,
  root: string,
  id: string,
  planes: readonly Float32Array[],
  width: number,
  height: number,
  signal?: AbortSignal,
): Promise<void> {
  const target = pyramidDir(root, id);
  if (existsSync(target)) return;
  await mkdir(join(root, 'pixels'), { recursive: true });
  const beside = join(root, 'pixels', `.${randomUUID()}`);
  await mkdir(beside);
  try {
    let level = planes;
    for (let l = 0; l < levelCount(width, height); l++) {
      signal?.throwIfAborted();
      if (l > 0) {
        const [w, h] = [levelSize(width, l - 1), levelSize(height, l - 1)];
        level = await Promise.all(level.map((plane) => pool.shrink({ plane, width: w, height: h }, signal)));
      }
      await writeLevel(join(beside, levelFile(l)), level, levelSize(width, l), levelSize(height, l));
    }
    await rename(beside, target);
  } catch (fault) {
    await rm(beside, { recursive: true, force: true });
    // Another import of the same file was faster: its pyramid is as good.
    if (!existsSync(target)) throw fault;
  }
}
