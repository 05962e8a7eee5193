import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { writeUpload } from './upload-stream';

let root: string;
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-receive-'));
});
afterAll(() => rm(root, { recursive: true, force: true }));

const MB = 2 ** 20;
const noise = randomFrom(7);
const bytes = Buffer.from(Uint8Array.from({ length: 5 * MB }, () => 256 * noise.next()));

/** The first bytes of the noise, cut wherever it is said. */
function* cut(length: number, sizes: readonly number[]): Generator<Buffer> {
  for (let from = 0, i = 0; from < length; i++) {
    const to = Math.min(length, from + sizes[i % sizes.length]);
    // Whoever sends may use its own memory again.
    yield Buffer.from(bytes.subarray(from, to));
    from = to;
  }
}

describe('a stream that is taken to disk', () => {
  it('is the same there, however it comes in pieces', async () => {
    const path = join(root, 'same');
    const size = fc.oneof(fc.integer({ min: 1, max: 70_000 }), fc.constantFrom(MB - 1, MB, MB + 1, 2 * MB, 3 * MB + 7));
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(fc.integer({ min: 0, max: 5 * MB }), fc.constantFrom(0, 1, MB, 2 * MB, 4 * MB)),
        fc.array(size, { minLength: 1, maxLength: 6 }),
        async (length, sizes) => {
          // Crumbs of a byte would make a test of the streams out of it.
          fc.pre(sizes.some((one) => one > 5000));
          await writeUpload(Readable.from(cut(length, sizes), { objectMode: false }), path);
          expect((await readFile(path)).equals(bytes.subarray(0, length))).toBe(true);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('of more bytes than may come in is refused, and read to its end, so that the sender hears of it', async () => {
    const body = Readable.from(cut(3 * MB, [65_536]), { objectMode: false });
    await expect(writeUpload(body, join(root, 'large'), 2 * MB)).rejects.toMatchObject({ code: 'too-large' });
    if (!body.readableEnded) await new Promise((resolve) => body.once('end', resolve));
  });

  it('whose sender goes away is not taken for whole', async () => {
    const body = new Readable({ read: () => undefined });
    const taken = writeUpload(body, join(root, 'broken'));
    body.push(bytes.subarray(0, 100_000));
    setTimeout(() => body.destroy(), 20);
    await expect(taken).rejects.toThrow(/broke off/);
  });

  it('to a place that cannot be written is refused, and read to its end all the same', async () => {
    const body = Readable.from(cut(3 * MB, [65_536]), { objectMode: false });
    await expect(writeUpload(body, join(root, 'none', 'there'))).rejects.toMatchObject({ code: 'ENOENT' });
    if (!body.readableEnded) await new Promise((resolve) => body.once('end', resolve));
    expect([body.listenerCount('close'), body.listenerCount('data')]).toEqual([0, 0]);
  });
});
