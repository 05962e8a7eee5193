import { copyFile, cp, mkdtemp, open, readdir, rm, stat, truncate, unlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { WorkerPool } from '../workers/worker-pool';
import { pyramidDir, writePyramid } from '../render/pyramid';
import { levelFile, SUMS_FILE } from './pyramid-files';
import { checkPyramid, readSums, TILE_BYTES } from './tile-checksums';

const [width, height] = [1131, 619];
const id = '0'.repeat(32);
let root: string;
let whole: string;
let dir: string;
let pool: WorkerPool;

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-sums-'));
  pool = new WorkerPool();
  const random = randomFrom(9);
  const make = () => {
    const plane = new Float32Array(new SharedArrayBuffer(4 * width * height));
    for (let i = 0; i < plane.length; i++) plane[i] = random.next();
    return plane;
  };
  await writePyramid(pool, root, id, [make(), make(), make()], width, height);
  whole = pyramidDir(root, id);
  dir = join(root, 'copy');
}, 60_000);
afterAll(async () => {
  await pool.close();
  await rm(root, { recursive: true, force: true });
});
beforeEach(async () => {
  await rm(dir, { recursive: true, force: true });
  await cp(whole, dir, { recursive: true });
});

/** Turns one bit of a file over. */
async function flip(path: string, place: number, bit: number): Promise<void> {
  const file = await open(path, 'r+');
  try {
    const byte = new Uint8Array(1);
    await file.read(byte, 0, 1, place);
    byte[0] ^= 1 << bit;
    await file.write(byte, 0, 1, place);
  } finally {
    await file.close();
  }
}

it('a pyramid as it was written is whole, with one sum a tile and plane', async () => {
  expect(checkPyramid(dir)).toBe('whole');
  expect(await pool.check(dir)).toBe('whole');
  const sums = readSums(dir);
  for (const [level, tiles] of (sums ?? []).entries())
    expect(tiles.length * TILE_BYTES).toBe((await stat(join(dir, levelFile(level)))).size);
  expect(sums?.[0]).toHaveLength(3 * 3 * 2);
});

it('one bit that turns over anywhere is found, and is the only thing that makes a difference', async () => {
  const levels = (await readdir(dir)).filter((name) => name.endsWith('.f32'));
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...levels),
      fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true }),
      fc.integer({ min: 0, max: 7 }),
      async (name, share, bit) => {
        const place = Math.floor(share * (await stat(join(dir, name))).size);
        await flip(join(dir, name), place, bit);
        expect(checkPyramid(dir)).toEqual({
          why: `tile ${Math.floor(place / TILE_BYTES)} of ${name} is not what was written`,
        });
        await flip(join(dir, name), place, bit);
        expect(checkPyramid(dir)).toBe('whole');
      },
    ),
    { numRuns: 12 },
  );
});

it('a level that is cut short, or gone, or sums that are torn, are told', async () => {
  await truncate(join(dir, levelFile(1)), TILE_BYTES + 5);
  expect(checkPyramid(dir)).toEqual({ why: `${levelFile(1)} is cut short` });
  await unlink(join(dir, levelFile(1)));
  expect(checkPyramid(dir)).toEqual({ why: `${levelFile(1)} is not there, or cannot be opened` });
  await copyFile(join(whole, levelFile(1)), join(dir, levelFile(1)));
  await truncate(join(dir, SUMS_FILE), 20);
  expect(checkPyramid(dir)).toEqual({ why: 'the sums of its tiles cannot be read' });
});

it('one that was written before sums were kept is told apart from one that is not there', async () => {
  await unlink(join(dir, SUMS_FILE));
  expect(checkPyramid(dir)).toBe('unsummed');
  expect(checkPyramid(join(root, 'nowhere'))).toEqual({ why: 'its pixels are not there' });
});
