import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encodeFits } from '@owl-loom/image/fits/write';
import { scene } from '@owl-loom/testing/random';
import { encodeTiff } from '../codecs/tiff';
import { WorkerPool } from '../workers/worker-pool';
import { loadPixels, openSource } from '../render/stack';

const [width, height] = [97, 61];
const picture = scene(5, width, height);
const counts = picture.map((v) => Math.round(40_000 * v));
let root: string;
let pool: WorkerPool;

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-read-'));
  pool = new WorkerPool({ threads: 1 });
});
afterAll(async () => {
  await pool.close();
  await rm(root, { recursive: true, force: true });
});

const fitsOf = (plane: Float32Array): Buffer => Buffer.concat([...encodeFits({ width, height, planes: [plane] })]);

/** A file as the server takes it: looked at and read by worker threads alone. */
async function taken(name: string, bytes: Uint8Array, given?: number) {
  const path = join(root, name);
  await writeFile(path, bytes);
  const image = await pool.look({ path, name });
  const { source, divisor } = await openSource(pool, image, path, given);
  const { planes } = source.kind === 'memory' ? source : await loadPixels(pool, source, image);
  return { image, divisor, kind: source.kind, pixels: [...planes[0]] };
}

describe('a file that comes in', () => {
  it('is read piece by piece where it can be, and as a whole where it is packed; its pixels are the same', async () => {
    const plain = await taken('plain.fits', fitsOf(picture));
    const packed = await taken('packed.fits.gz', gzipSync(fitsOf(picture)));
    expect([plain.image.whole, packed.image.whole]).toEqual([false, true]);
    expect([plain.kind, packed.kind]).toEqual(['fits', 'memory']);
    expect(packed.pixels).toEqual(plain.pixels);
    expect(plain.pixels).toEqual([...picture]);
    expect(packed.image.cards.length).toBe(plain.image.cards.length);
  });

  it('is divided by what its numbers reach, by its type, or by what is given', async () => {
    const shares = counts.map((v) => Math.fround(v / 65535));
    const plain = await taken('counts.fits', fitsOf(counts));
    const packed = await taken('counts.fits.gz', gzipSync(fitsOf(counts)));
    expect([plain.divisor, packed.divisor]).toEqual([65535, 65535]);
    expect(plain.pixels).toEqual([...shares]);
    expect(packed.pixels).toEqual([...shares]);
    const halved = await taken('halved.fits.gz', gzipSync(fitsOf(counts)), 2);
    expect([halved.divisor, halved.pixels]).toEqual([2, [...counts.map((v) => Math.fround(v / 2))]]);
  });

  it('that is a picture is decoded as a whole, its first row the top', async () => {
    const tiff = Buffer.concat(encodeTiff({ width, height, planes: [picture], stretched: false }, 16));
    const { image, divisor, pixels } = await taken('picture.tif', tiff);
    expect([image.width, image.height, image.whole, divisor]).toEqual([width, height, true, 65535]);
    const worst = Math.max(...pixels.map((v, i) => Math.abs(v - Math.min(1, Math.max(0, picture[i])))));
    expect(worst).toBeLessThanOrEqual(0.51 / 65535);
  });

  it('that is no stack is refused in the same words', async () => {
    await expect(taken('words.fits', Buffer.from('nothing but words, and rather many of them'))).rejects.toMatchObject({
      name: 'UserError',
      message: expect.stringMatching(/words\.fits/),
    });
    await expect(taken('cut.fits.gz', gzipSync(fitsOf(picture)).subarray(0, 900))).rejects.toMatchObject({
      code: 'gzip',
    });
  });
});
