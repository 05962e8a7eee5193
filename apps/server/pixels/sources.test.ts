import { mkdir, mkdtemp, rm, symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { encodeFits } from '@owl-loom/image/fits/write';
import { levelSize } from '@owl-loom/image/pyramid/pyramid';
import { randomFrom } from '@owl-loom/testing/random';
import { writeAtomically } from '../system/write-atomically';
import { WorkerPool } from '../workers/worker-pool';
import { pyramidDir, writePyramid } from '../render/pyramid';
import { openPixels, type PixelSource } from './sources';
import { levelFile } from './pyramid-files';

const [width, height] = [1131, 619];
let root: string;
let pool: WorkerPool;
let sources: PixelSource[];

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-sources-'));
  pool = new WorkerPool();
  const random = randomFrom(4);
  const make = () => {
    const plane = new Float32Array(new SharedArrayBuffer(4 * width * height));
    for (let i = 0; i < plane.length; i++) plane[i] = random.next();
    plane.fill(Number.NaN, 100 * width + 40, 100 * width + 90);
    return plane;
  };
  const planes = [make(), make(), make()];
  const path = join(root, 'three.fits');
  await writeAtomically(path, encodeFits({ width, height, planes }));
  await writePyramid(pool, root, '0'.repeat(32), planes, width, height);
  sources = await Promise.all([
    openPixels({ kind: 'memory', width, height, planes }),
    openPixels({ kind: 'fits', path, name: 'three.fits', divisor: 1 }),
    openPixels({ kind: 'pyramid', dir: pyramidDir(root, '0'.repeat(32)), width, height, planes: 3 }),
  ]);
}, 60_000);

afterAll(async () => {
  for (const source of sources) await source.close();
  await pool.close();
  await rm(root, { recursive: true, force: true });
});

it('a full disk is told by its own sentence, though the writing is done on another thread', async () => {
  const full = join(root, 'full');
  await mkdir(full);
  // What is written there meets a full disk.
  for (let level = 0; level < 4; level++) await symlink('/dev/full', join(full, levelFile(level)));
  const plane = new Float32Array(new SharedArrayBuffer(4 * width * height));
  for (const part of ['full', 'coarser'] as const)
    await expect(pool.levels({ dir: full, plane, index: 0, width, height, part, lasting: true })).rejects.toMatchObject(
      {
        code: 'disk-full',
        message: expect.stringMatching(/Disk full.*Free some space/),
      },
    );
});

it('any window of any level is the same, wherever the pixels lie', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.record({
        plane: fc.nat(2),
        level: fc.nat(3),
        x: fc.integer({ min: -30, max: 1200 }),
        y: fc.integer({ min: -30, max: 700 }),
        w: fc.integer({ min: 1, max: 200 }),
        h: fc.integer({ min: 1, max: 120 }),
      }),
      async ({ plane, level, x, y, w, h }) => {
        const rect = { x: x >> level, y: y >> level, width: w, height: h };
        const [memory, fits, pyramid] = await Promise.all(sources.map((source) => source.read(plane, rect, level)));
        expect(fits).toEqual(memory);
        expect(pyramid).toEqual(memory);
        const inside =
          rect.x >= 0 && rect.y >= 0 && rect.x + w <= levelSize(width, level) && rect.y + h <= levelSize(height, level);
        if (inside && level > 0) expect(memory.every((v) => v >= 0 && v <= 1)).toBe(true);
      },
    ),
    { numRuns: 60 },
  );
});
