import { type FileHandle, open } from 'node:fs/promises';
import { join } from 'node:path';
import { Router } from 'express';
import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import { UserError } from '@owl-loom/base/errors';
import { levelSize } from '@owl-loom/image/pyramid/pyramid';
import type { Services } from '../services/services';
import { onCorruptPixels } from '../storage/integrity';
import { PIXEL_ID, pyramidDir } from '../render/pyramid';
import { tileOffset } from '../pixels/sources';
import { levelFile } from '../pixels/pyramid-files';
import { type TileChecksums, TILE_BYTES, tileMatches, readSums } from '../pixels/tile-checksums';
import { FOR_GOOD, parseOrThrow, route } from './http';

const tile = z.object({
  pixels: z.string().regex(PIXEL_ID),
  level: z.coerce.number().int().min(0).max(20),
  plane: z.coerce.number().int().min(0).max(2),
  tx: z.coerce.number().int().min(0).max(1000),
  ty: z.coerce.number().int().min(0).max(1000),
  width: z.coerce.number().int().min(1).max(200_000),
  height: z.coerce.number().int().min(1).max(200_000),
});

/** Pyramids whose sums are kept at hand. */
const MOST = 200;

/** Reads as much of a tile as there is. */
async function readTile(file: FileHandle, offset: number): Promise<Buffer> {
  const buffer = Buffer.allocUnsafe(TILE_BYTES);
  const { bytesRead } = await file.read(buffer, 0, TILE_BYTES, offset);
  return buffer.subarray(0, bytesRead);
}

/** Pixels by tiles, none of which leaves that is not what was written: browsers keep them for ever. */
export function pixelRoutes(services: Services): Router {
  const router = Router();
  // So that a tile costs one read. One that has none is looked at again: it may be made anew.
  const atHand = new LRUCache<string, TileChecksums>({ max: MOST });

  // The size stands in the address, so that a tile needs no look into the database; it can only move the offset within the file.
  router.get(
    '/pixels/:pixels/:width/:height/:level/:plane/:tx/:ty',
    route(async (request, response) => {
      const { pixels, level, plane, tx, ty, width, height } = parseOrThrow(tile, request.params);
      const offset = tileOffset(levelSize(width, level), levelSize(height, level), plane, tx, ty);
      const dir = pyramidDir(services.root, pixels);
      const sums = atHand.get(dir) ?? readSums(dir);
      if (sums) atHand.set(dir, sums);
      const sum = sums?.[level]?.[offset / TILE_BYTES];
      if (sums && sum === undefined) throw new UserError('no-pixels', 'There is no such tile.');
      const damaged = async (why: string): Promise<never> => {
        atHand.delete(dir);
        throw await onCorruptPixels(services, pixels, why);
      };
      const file = await open(join(dir, levelFile(level))).catch(() => damaged(`${levelFile(level)} is not there`));
      try {
        const bytes = await readTile(file, offset);
        if (sums === undefined && bytes.length < TILE_BYTES) throw new UserError('no-pixels', 'There is no such tile.');
        if (sums !== undefined && (sum === undefined || !tileMatches(bytes, sum)))
          await damaged(`a tile of ${levelFile(level)} was not what was written`);
        response.set({ 'Content-Type': 'application/octet-stream', ...FOR_GOOD }).end(bytes);
      } finally {
        await file.close();
      }
    }),
  );
  return router;
}
