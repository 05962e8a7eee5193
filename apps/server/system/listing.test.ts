import { mkdir, mkdtemp, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { WalkBudget, filesUnder, namesIn } from './listing';
import { sizeUnder } from './folder-size';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'listing-'));
  for (const inner of ['a', 'a/b', 'c']) {
    await mkdir(join(folder, inner));
    for (let i = 0; i < 70; i++) await writeFile(join(folder, inner, `${i}.txt`), 'x'.repeat(i));
  }
  await symlink(folder, join(folder, 'c', 'round'));
  await symlink('/proc/self', join(folder, 'c', 'kernel'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

it('counts every file once, and follows no link', async () => {
  const [files, bytes] = [3 * 70, (3 * 70 * 69) / 2];
  expect(await sizeUnder(folder)).toEqual({ files, bytes });
  expect(await sizeUnder(join(folder, 'a', '7.txt'))).toEqual({ files: 1, bytes: 7 });
  expect(await sizeUnder(join(folder, 'nothing'))).toEqual({ files: 0, bytes: 0 });
  expect(await sizeUnder(join(folder, 'c', 'kernel'))).toEqual({ files: 0, bytes: 0 });
});

it('lists a folder, and nothing where there is none', async () => {
  expect((await namesIn(folder)).sort()).toEqual(['a', 'c']);
  expect(await namesIn(join(folder, 'nothing'))).toEqual([]);
});

it('ends where there is more than it may look at, and where it is stopped', async () => {
  await expect(namesIn(join(folder, 'a'), new WalkBudget(undefined, 70))).rejects.toThrow(/has far too many files/);
  expect((await namesIn(join(folder, 'a'), new WalkBudget(undefined, 71))).length).toBe(71);
  const stop = new AbortController();
  const walk = async (): Promise<number> => {
    let seen = 0;
    for await (const _ of filesUnder(folder, new WalkBudget(stop.signal)))
      if (++seen === 5) stop.abort(new Error('enough'));
    return seen;
  };
  await expect(walk()).rejects.toThrow('enough');
});
