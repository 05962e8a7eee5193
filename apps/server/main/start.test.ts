import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { json, requestJson } from '../http/request-json';
import { type RunningServer, startAll } from './start';
import { HOME } from '../system/home';
import { smallDisk } from '../testing/small-disk';

process.env.LOOM_LOG = 'silent';

let root: string;
let running: RunningServer | undefined;
const start = async (): Promise<RunningServer> => {
  running = await startAll({ root, port: 0 });
  return running;
};
const stop = async (): Promise<void> => {
  await running?.stop();
  running = undefined;
};

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-start-'));
});
afterAll(async () => {
  await stop();
  await rm(root, { recursive: true, force: true });
});

describe('a start', () => {
  it('that was cut off while the database was being set up is begun anew', async () => {
    // What a power cut leaves of the first start.
    await mkdir(join(root, 'db', 'data.new', 'mysql'), { recursive: true });
    await writeFile(join(root, 'db', 'data.new', 'mysql', 'half'), 'x');
    const { address } = await start();
    await requestJson(address, '/targets', json('POST', { name: 'First' }));
    expect(existsSync(join(root, 'db', 'data.new'))).toBe(false);
  });

  it('of a second Owl Loom on the same folder is refused, whatever name its program has', async () => {
    await expect(startAll({ root, port: 0 })).rejects.toMatchObject({ code: 'already-running' });
  });

  it('is not kept off by the number of a process that is gone, or is another program now', async () => {
    await stop();
    await writeFile(join(root, 'loom.pid'), `${process.ppid}\n`);
    await start();
  });

  it('does migrations again that were cut off, and keeps a copy of the database from before', async () => {
    // Each had changed its tables when the power went, and was not yet written down.
    await running?.services.data.query('DELETE FROM migrations');
    await running?.services.data.query(
      "INSERT INTO migrations (timestamp, name) VALUES (1, 'FirstCloth1764000000000')",
    );
    await stop();
    const { address } = await start();
    expect(await requestJson<{ name: string }[]>(address, '/targets')).toMatchObject([{ name: 'First' }]);
    const copies = (await readdir(join(root, 'db'))).filter((name) => name.startsWith('before-1-'));
    expect(copies).toHaveLength(1);
    const copy = gunzipSync(await readFile(join(root, 'db', copies[0]))).toString('utf8');
    expect(copy).toMatch(/CREATE TABLE `targets`/);
    expect(copy).toContain('First');
  });

  it('writes down which version opened the data last', async () => {
    const { version } = JSON.parse(await readFile(join(HOME, 'package.json'), 'utf8')) as { version: string };
    const rows: { value: string }[] | undefined = await running?.services.data.query(
      "SELECT JSON_UNQUOTE(value) AS value FROM settings WHERE name = 'version'",
    );
    expect(rows).toEqual([{ value: version }]);
  });

  it('does all of them again from nothing', async () => {
    await running?.services.data.query('DROP TABLE migrations');
    await stop();
    const { address } = await start();
    expect(await requestJson<{ name: string }[]>(address, '/targets')).toMatchObject([{ name: 'First' }]);
  });

  it('on the data of a newer version is refused in one sentence, and changes nothing', async () => {
    await running?.services.data.query("INSERT INTO migrations (timestamp, name) VALUES (9, 'Tomorrow9999999999999')");
    await stop();
    await expect(startAll({ root, port: 0 })).rejects.toMatchObject({
      code: 'newer-data',
      message: expect.stringMatching(/made by a newer Owl Loom/),
    });
  });
});

describe('a folder', () => {
  it('that cannot be made is named in one sentence', async () => {
    await writeFile(join(root, 'a-file'), '');
    await expect(startAll({ root: join(root, 'a-file', 'data'), port: 0 })).rejects.toMatchObject({
      code: 'no-folder',
      message: expect.stringMatching(/cannot be made .*LOOM_DATA/),
    });
  });

  const small = '/tmp/owl-loom-small';
  let takeAway: (() => void) | undefined;
  afterAll(() => takeAway?.());

  it('with too little room, or that may not be written, likewise', async (context) => {
    await mkdir(small, { recursive: true });
    takeAway = smallDisk(small, 'size=20m');
    if (!takeAway) return context.skip('only who may mount a disk can try it on one');
    await expect(startAll({ root: small, port: 0 })).rejects.toMatchObject({
      code: 'no-room',
      message: expect.stringMatching(/Only \d+ MB are free .* needs 400 MB/),
    });
    takeAway();
    takeAway = smallDisk(small, 'size=600m,ro');
    if (!takeAway) return context.skip('only who may mount a disk can try it on one');
    await expect(startAll({ root: small, port: 0 })).rejects.toMatchObject({
      code: 'cannot-write',
      message: expect.stringMatching(/cannot be written \(EROFS\)/),
    });
  });
});
