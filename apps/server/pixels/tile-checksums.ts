import { closeSync, openSync, readFileSync, readSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { crc32 } from 'node:zlib';
import { z } from 'zod';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import { TILE } from '@owl-loom/image/pyramid/pyramid';
import { levelFile, SUMS_FILE } from './pyramid-files';
import { errorCodeOf } from '@owl-loom/base/errors';

export const TILE_BYTES = TILE * TILE * 4;

/** CRC-32 of every tile: a list a level, in the order in which tiles lie in the level's file. */
export type TileChecksums = readonly (readonly number[])[];

const schema = z.array(z.array(z.int().nonnegative())).min(1);

/** Whether a tile's bytes are those that were written. */
export const tileMatches = (bytes: Uint8Array, sum: number): boolean => crc32(bytes) === sum;

/**
 * The sums of a pyramid.
 * @returns undefined where it was written before sums were kept; null where they cannot be read
 */
export function readSums(dir: string): TileChecksums | undefined | null {
  try {
    return schema.safeParse(parseJsonOrUndefined(readFileSync(join(dir, SUMS_FILE), 'utf8'))).data ?? null;
  } catch (error) {
    return errorCodeOf(error) === 'ENOENT' ? undefined : null;
  }
}

/** How a pyramid was found: as it was written, without sums to tell by, or not as it was written, and why. */
export type IntegrityState = 'whole' | 'unsummed' | { readonly why: string };

/** Reads a whole pyramid and compares every tile with its sum. */
export function checkPyramid(dir: string): IntegrityState {
  const sums = readSums(dir);
  if (sums === null) return { why: 'the sums of its tiles cannot be read' };
  if (sums === undefined) return hasFile(join(dir, levelFile(0))) ? 'unsummed' : { why: 'its pixels are not there' };
  const bytes = new Uint8Array(TILE_BYTES);
  for (const [level, tiles] of sums.entries()) {
    const name = levelFile(level);
    let file: number;
    try {
      file = openSync(join(dir, name), 'r');
    } catch {
      return { why: `${name} is not there, or cannot be opened` };
    }
    try {
      for (const [i, sum] of tiles.entries()) {
        if (readSync(file, bytes, 0, TILE_BYTES, i * TILE_BYTES) !== TILE_BYTES) return { why: `${name} is cut short` };
        if (!tileMatches(bytes, sum)) return { why: `tile ${i} of ${name} is not what was written` };
      }
    } catch (error) {
      return { why: `${name} cannot be read (${errorCodeOf(error)})` };
    } finally {
      closeSync(file);
    }
  }
  return 'whole';
}

function hasFile(path: string): boolean {
  return statSync(path, { throwIfNoEntry: false })?.isFile() ?? false;
}
