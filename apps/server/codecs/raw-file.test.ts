import { mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { peek, inspectFile, loadFile } from '../pixels/inspect-file';
import { sharedRaster } from '../pixels/shared-raster';
import { openFile } from './open-file';
import { openImage } from './image-file';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-raw-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const SIDE = 12_000;
const MB = 2 ** 20;

/** A picture of one colour: a file of a megabyte that stands for hundreds. */
async function plain(name: string, write: (picture: Sharp) => Sharp): Promise<{ path: string; name: string }> {
  const path = join(folder, name);
  const background = { r: 30, g: 60, b: 90 };
  await write(
    sharp({ create: { width: SIDE, height: SIDE, channels: 3, background }, limitInputPixels: false }),
  ).toFile(path);
  return { path, name };
}

/** The most memory that this process has more than before while something is done, in bytes. */
async function memoryOf(work: () => Promise<unknown>): Promise<number> {
  const before = process.memoryUsage.rss();
  let max = before;
  const timer = setInterval(() => {
    max = Math.max(max, process.memoryUsage.rss());
  }, 5);
  await work();
  clearInterval(timer);
  return max - before;
}

describe('a picture of 144 megapixels in a small file', () => {
  it.each([
    ['a.png', (p: Sharp) => p.png({ compressionLevel: 9 })],
    ['b.tif', (p: Sharp) => p.tiff({ compression: 'deflate' })],
    ['c.tif', (p: Sharp) => p.tiff({ compression: 'deflate', tile: true, tileWidth: 256, tileHeight: 256 })],
  ])('%s is looked at without being held', async (name, write) => {
    const file = await plain(name, write);
    expect((await stat(file.path)).size).toBeLessThan(8 * MB);
    const used = await memoryOf(async () => {
      expect(await inspectFile(file)).toMatchObject({ width: SIDE, height: SIDE, planes: 3, whole: true });
    });
    // Decoded it has 412 MB.
    expect(used).toBeLessThan(200 * MB);
  });

  it('says by its head what a look at it takes', async () => {
    expect(await peek({ path: join(folder, 'a.png'), name: 'a.png' })).toBeLessThan(100 * MB);
    const woven = await plain('d.png', (p) => p.png({ progressive: true }));
    expect(await peek(woven)).toBeGreaterThan(3 * SIDE * SIDE);
    expect(await peek({ path: join(folder, 'b.tif'), name: 'b.tif' })).toBeGreaterThan(3 * SIDE * SIDE);
  });
});

describe('a picture that is decoded to a file', () => {
  it('gives the same rows in any pieces, and leaves nothing behind', async () => {
    const [width, height] = [37, 29];
    const samples = Uint16Array.from({ length: width * height * 3 }, (_, i) => (i * 7919) % 65_536);
    const path = join(folder, 'small.tif');
    await sharp(samples, { raw: { width, height, channels: 3 } })
      .toColourspace('rgb16')
      .tiff({ compression: 'none' })
      .toFile(path);
    const before = await readdir(folder);
    const raster = sharedRaster({ x: 0, y: 0, width, height }, 3);
    await loadFile({ path, name: 'small.tif', raster, divisor: 1 });
    const file = await openFile(path);
    const image = await openImage(file);
    for (const [p, plane] of raster.planes.entries())
      for (let y = 0; y < height; y += 5) {
        const rows = Math.min(5, height - y);
        const read = await image.readRows(p, y, rows);
        expect([...read]).toEqual([...plane.subarray(y * width, (y + rows) * width)]);
        const top = (height - 1 - y) * width * 3 + p;
        expect(read[0]).toBe(samples[top]);
      }
    await image.close?.();
    await file.close();
    expect(await readdir(folder)).toEqual(before);
  });
});
