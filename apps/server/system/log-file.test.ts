import { mkdir, mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { LogFile } from './log-file';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-log-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

describe('the log', () => {
  it('says how many lines were lost as soon as it can be written again, and is never in the way', async () => {
    const path = join(folder, 'later', 'server.log');
    const log = new LogFile(path);
    for (let i = 0; i < 3; i++) log.write(`lost ${i}\n`);
    await mkdir(join(folder, 'later'));
    log.write('kept\n');
    log.write('and this\n');
    log.close();
    const [first, ...rest] = (await readFile(path, 'utf8')).trim().split('\n');
    expect(JSON.parse(first)).toMatchObject({ lost: 3, msg: 'lines could not be written' });
    expect(rest).toEqual(['kept', 'and this']);
  });

  it('goes on where an earlier run left it, is put aside when it grows long, and the oldest goes', async () => {
    const path = join(folder, 'server.log');
    for (let run = 0; run < 2; run++) {
      const log = new LogFile(path, 100);
      for (let i = 0; i < 20; i++) log.write(`${run} ${i} ${'x'.repeat(30)}\n`);
      log.close();
    }
    const names = (await readdir(folder)).sort();
    expect(names).toEqual(['server.log', 'server.log.1', 'server.log.2', 'server.log.3']);
    const texts = await Promise.all([...names].reverse().map((name) => readFile(join(folder, name), 'utf8')));
    const lines = texts.join('').trim().split('\n');
    // The newest, in their order, none torn.
    const numbers = lines.map((line) => line.split(' ').slice(0, 2).map(Number));
    expect(numbers.at(-1)).toEqual([1, 19]);
    numbers.forEach(
      ([run, i], k) => k > 0 && expect(20 * run + i).toBe(20 * numbers[k - 1][0] + numbers[k - 1][1] + 1),
    );
  });
});
