import { randomBytes } from 'node:crypto';
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFile } from './open-file';

let dir: string;
const MB = 2 ** 20;

beforeAll(async () => {
  dir = await mkdtemp(join(tmpdir(), 'owl-loom-gunzip-'));
});
afterAll(() => rm(dir, { recursive: true, force: true }));

async function packed(name: string, ...parts: Buffer[]): Promise<string> {
  const path = join(dir, name);
  await writeFile(path, Buffer.concat(parts.map((part) => gzipSync(part, { level: 1 }))));
  return path;
}

describe('a gzipped file', () => {
  it('is read as what it holds, in one piece or several', async () => {
    const [a, b] = [randomBytes(300_000), randomBytes(200_001)];
    const source = await openFile(await packed('two.fits.gz', a, b));
    expect(source.size).toBe(500_001);
    expect(
      Buffer.from(await source.read(299_990, 20)).equals(Buffer.concat([a.subarray(-10), b.subarray(0, 10)])),
    ).toBe(true);
    await source.close();
  });

  it('that is large lies on the disk and not in memory, and leaves nothing there', async () => {
    // Half noise, half nothing: packed it is about a third.
    const piece = Buffer.concat([randomBytes(4 * MB), Buffer.alloc(8 * MB, 7)]);
    const whole = Buffer.concat(Array.from({ length: 20 }, () => piece));
    const path = await packed('large.fits.gz', whole);
    const before = process.memoryUsage().arrayBuffers;
    const source = await openFile(path);
    expect(source.size).toBe(whole.length);
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(200 * MB);
    for (const offset of [0, 12 * MB - 5, 239 * MB])
      expect(Buffer.from(await source.read(offset, 100)).equals(whole.subarray(offset, offset + 100))).toBe(true);
    expect(await readdir(dir)).not.toContainEqual(expect.stringMatching(/\.part$/));
    await source.close();
  });

  it('that swells beyond what a stack can be is refused before it takes the memory', async () => {
    const path = await packed('bomb.fits.gz', ...Array.from({ length: 4 }, () => Buffer.alloc(64 * MB)));
    const before = process.memoryUsage().rss;
    await expect(openFile(path)).rejects.toMatchObject({
      code: 'gzip-large',
      message: expect.stringMatching(/^bomb\.fits\.gz unpacks to far more than a stack holds .* unpack it first\.$/),
    });
    expect(process.memoryUsage().rss - before).toBeLessThan(200 * MB);
  });

  it('that is cut off or damaged is told in one sentence', async () => {
    const whole = gzipSync(randomBytes(100_000));
    for (const bytes of [whole.subarray(0, 60_000), Buffer.concat([whole.subarray(0, 500), randomBytes(2000)])]) {
      const path = join(dir, 'broken.fits.gz');
      await writeFile(path, bytes);
      await expect(openFile(path)).rejects.toMatchObject({
        code: 'gzip',
        message: expect.stringMatching(/copy the file again/),
      });
    }
  });
});
