import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { openFile } from './open-file';

let dir: string;
const bytes = Uint8Array.from({ length: 5000 }, (_, i) => (i * 31) % 251);

beforeAll(async () => {
  dir = await mkdtemp(join(tmpdir(), 'owl-loom-bytes-'));
  await writeFile(join(dir, 'plain'), bytes);
  await writeFile(join(dir, 'packed'), gzipSync(bytes));
});
afterAll(() => rm(dir, { recursive: true, force: true }));

describe.each(['plain', 'packed', 'memory'])('random access to a %s file', (kind) => {
  const source = async () =>
    kind === 'memory' ? { ...memorySource(kind, bytes), close: async () => undefined } : openFile(join(dir, kind));

  it('gives the bytes that were asked for', async () => {
    const file = await source();
    expect(file.size).toBe(bytes.length);
    for (const [offset, length] of [
      [0, 5000],
      [4999, 1],
      [17, 0],
      [1234, 567],
    ])
      expect(await file.read(offset, length)).toEqual(bytes.subarray(offset, offset + length));
    await file.close();
  });

  // The system's own call for 2 GB and more ends the process, so a damaged length must never get there.
  it.each([
    [0, 5001],
    [4999, 2],
    [0, 2 ** 31],
    [0, 2 ** 40],
    [2 ** 60, 1],
    [-1, 10],
    [10, -1],
    [Number.NaN, 1],
    [0, Number.NaN],
  ])('refuses what lies beyond its end: %d bytes on, %d bytes', async (offset, length) => {
    const file = await source();
    await expect(file.read(offset, length)).rejects.toThrow(/past the end of/);
    await file.close();
  });
});
