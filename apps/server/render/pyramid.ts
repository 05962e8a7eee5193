import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { levelCount } from '@owl-loom/image/pyramid/pyramid';
import { writeAtomically } from '../system/write-atomically';
import type { WorkerPool } from '../workers/worker-pool';
import { SUMS_FILE, levelFile, PYRAMID_PARTS } from '../pixels/pyramid-files';

/** Folder of a pyramid; the id comes from a hash, never from a request unchecked. */
export const pyramidDir = (root: string, id: string): string => join(root, 'pixels', id);

/** What a pixel id looks like. */
export const PIXEL_ID = /^[0-9a-f]{32}$/;

export interface PyramidOptions {
  readonly signal?: AbortSignal;
  /** Waits until all of it lies on the disk. */
  readonly lasting?: boolean;
  /** A file that lies in its folder from the first, and what it says. */
  readonly mark?: { readonly name: string; readonly text: string };
}

/**
 * Writes the levels of a picture, each half of the one before, in tiles of 512 pixels; the folder appears only when it is whole.
 * @param planes at full size, in shared memory
 * @returns whether it was written: one that is there already stays
 */
export async function writePyramid(
  pool: WorkerPool,
  root: string,
  id: string,
  planes: readonly Float32Array[],
  width: number,
  height: number,
  { signal, lasting = true, mark }: PyramidOptions = {},
): Promise<boolean> {
  const target = pyramidDir(root, id);
  if (existsSync(target)) return false;
  await mkdir(join(root, 'pixels'), { recursive: true });
  const beside = join(root, 'pixels', `.${randomUUID()}`);
  await mkdir(beside);
  try {
    for (let l = 0; l < levelCount(width, height); l++) await writeFile(join(beside, levelFile(l)), '');
    if (mark) await writeFile(join(beside, mark.name), mark.text);
    const parts = PYRAMID_PARTS.flatMap((part) => planes.map((plane, index) => ({ part, plane, index })));
    const sums = await Promise.all(
      parts.map((part) => pool.levels({ ...part, dir: beside, width, height, lasting }, signal)),
    );
    // The parts are ordered: full size, a list for each plane, then what is coarser; planes lie after each other in a file.
    const [full, coarser] = [sums.slice(0, planes.length), sums.slice(planes.length)];
    const coarserLevels = coarser[0].map((_, l) => coarser.flatMap((one) => one[l]));
    const text = Buffer.from(JSON.stringify([full.flatMap(([first]) => first), ...coarserLevels]));
    if (lasting) await writeAtomically(join(beside, SUMS_FILE), [text]);
    else await writeFile(join(beside, SUMS_FILE), text);
    await rename(beside, target);
    return true;
  } catch (error) {
    await rm(beside, { recursive: true, force: true });
    // Another who wrote the same was faster: that pyramid is as good.
    if (!existsSync(target)) throw error;
    return false;
  }
}
