import { setTimeout as delay } from 'node:timers/promises';
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readFile, readdir, rm, stat, truncate, writeFile, symlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { backUpWhereDue } from './backup-due';
import { saveSchedule, scheduleOf } from './backup-schedule';
import { loomOn } from '../testing/command';
import { TestServer, fits } from '../testing/api';
import { smallDisk } from '../testing/small-disk';
import { MAX_RUNS } from './layout';

/** What is said to be free on every disk, where nobody may mount a small one. */
const told = vi.hoisted(() => ({ free: undefined as number | undefined }));
vi.mock('../system/disk-space', async (original) => {
  const room = await original<typeof import('../system/disk-space')>();
  return { ...room, freeBytes: async (folder: string) => told.free ?? (await room.freeBytes(folder)) };
});

let server: TestServer;
let target: string;
let recipeId: string;
let base: string;
let dir: string;
const DAY = 24 * 3_600_000;

const recipe = (multiply: number) => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Kept twice',
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'scale', multiply }] }],
  cloth: { layers: [{ id: 'base', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
});

beforeAll(async () => {
  base = await mkdtemp(join(tmpdir(), 'owl-loom-backup-'));
  dir = join(base, 'kept');
  server = await TestServer.open();
  target = await server.newTarget('Twice');
  await server.bringIn(target, 'b_Ha.fits', fits(91, 'Ha'));
  recipeId = await server.newRecipe(target, recipe(1));
  await written(server);
});
afterAll(async () => {
  await server.close();
  await rm(base, { recursive: true, force: true });
});

async function written(where: TestServer): Promise<string> {
  const asked = await where
    .agent()
    .post(`/api/targets/${target}/exports`)
    .send({ recipeId, format: 'tif' })
    .expect(202);
  expect((await where.jobEnds(asked.body.job)).state).toBe('done');
  return (await where.agent().get(`/api/targets/${target}/exports`)).body[0].sum;
}

async function backUp(to = dir) {
  const { body } = await server.agent().post('/api/backups').set(server.own).send({ dir: to }).expect(202);
  return server.jobEnds(body.job);
}

const restore = (from: string, to: string) => loomOn(to, 'restore', from);

describe('a backup', () => {
  it('is made while the server goes on, copies each file once, and is brought back whole by the command', async () => {
    const first = await backUp();
    expect(first).toMatchObject({ state: 'done', result: { copied: 3, files: 3 } });
    await server
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent: 1, body: recipe(3) })
      .expect(200);
    await server.bringIn(target, 'b_OIII.fits', fits(92, 'OIII'));
    const before = await Promise.all(
      (await readdir(join(dir, 'files/stacks'))).map(async (name) => (await stat(join(dir, 'files/stacks', name))).ino),
    );
    const second = await backUp();
    expect(second).toMatchObject({ state: 'done', result: { copied: 1, files: 4 } });
    const after = await Promise.all(
      (await readdir(join(dir, 'files/stacks'))).map(async (name) => (await stat(join(dir, 'files/stacks', name))).ino),
    );
    for (const inode of before) expect(after).toContain(inode);
    const root = join(base, 'back');
    const told = await restore(dir, root);
    expect(told.err).toBe('');
    expect(JSON.parse(told.out)).toMatchObject({ files: 4, lacking: [] });
    const again = await TestServer.open(undefined, root);
    try {
      expect((await again.agent().get(`/api/recipes/${recipeId}`).expect(200)).body).toMatchObject({
        revision: 2,
        body: recipe(3),
      });
      expect(await written(again)).toBe(await written(server));
      expect(await again.stacks(target)).toEqual(await server.stacks(target));
    } finally {
      await again.close();
    }
  });

  it('goes by the page only where a command has sent one, or has allowed it', async () => {
    const elsewhere = join(base, 'elsewhere');
    const ask = (to: string) => server.agent().post('/api/backups').send({ dir: to });
    const { body } = await ask(elsewhere).expect(403);
    expect(body.error.message).toContain(`./loom backup --allow ${elsewhere}`);
    await server.agent().put('/api/backups/schedule').send({ every: 'day', dir: elsewhere }).expect(403);
    await server.agent().post('/api/backups/places').send({ dir: elsewhere }).expect(403);
    expect(existsSync(elsewhere)).toBe(false);
    // A way round by a link leads nowhere else.
    await symlink(base, join(dir, 'files', 'link'));
    await ask(join(dir, 'files', 'link', 'elsewhere')).expect(403);
    await rm(join(dir, 'files', 'link'));
    expect((await loomOn(server.root, 'backup', '--allow', elsewhere)).code).toBe(0);
    const { body: taken } = await ask(join(elsewhere, 'deeper')).expect(202);
    expect((await server.jobEnds(taken.job)).state).toBe('done');
  });

  it('goes to nothing that is the system’s own', async () => {
    for (const to of ['/', '/proc/self/x', '/sys/x', '/dev/shm/x', '/run/x']) {
      const { body } = await server.agent().post('/api/backups').send({ dir: to }).expect(422);
      expect(body.error.message).toMatch(/belongs to the system/);
      await server.agent().post('/api/backups/places').set(server.own).send({ dir: to }).expect(422);
    }
  });

  it('goes nowhere where it would be lost or would lose something else', async () => {
    const refused = async (to: string, says: RegExp): Promise<void> => {
      const { body } = await server.agent().post('/api/backups').set(server.own).send({ dir: to }).expect(422);
      expect(body.error.message).toMatch(says);
    };
    await refused(join(server.root, 'backup'), /must not be inside the data folder/);
    await refused(join(server.root, '..'), /must not be inside the data folder .*, or contain it/);
    await refused('here', /is not an absolute path/);
    await mkdir(join(base, 'others'));
    await writeFile(join(base, 'others', 'letter.txt'), 'dear');
    await refused(join(base, 'others'), /has other files in it/);
    await writeFile(join(base, 'a-file'), '');
    await refused(join(base, 'a-file', 'in'), /cannot be written \(ENOTDIR\)/);
    await mkdir(join(base, 'newer'));
    await writeFile(join(base, 'newer', 'owl-loom-backup.json'), '{"format":"owl-loom-backup","version":7}');
    await refused(join(base, 'newer'), /newer Owl Loom/);
    expect(await readdir(join(base, 'others'))).toEqual(['letter.txt']);
  });

  it('to a disk that is too small says what it needs, and leaves no run that is half', async () => {
    const small = join(base, 'small');
    await mkdir(small);
    const takeAway = smallDisk(small, 'size=300k');
    if (!takeAway) told.free = 2 ** 10;
    try {
      const { state, message } = await backUp(small);
      expect(state).toBe('failed');
      expect(message).toMatch(/^(The backup needs|The disk of) .*free some space there/);
      expect(await readdir(join(small, 'runs'))).toEqual([]);
      expect((await restore(small, join(base, 'nothing'))).err).toMatch(/has no finished backup/);
    } finally {
      told.free = undefined;
      takeAway?.();
    }
  });

  it('is not brought back over data, nor from what is damaged or no backup', async () => {
    expect((await restore(dir, server.root)).err).toMatch(/already has data/);
    expect((await restore(base, join(base, 'x'))).err).toMatch(/is not a backup folder/);
    const copy = join(base, 'copy');
    spawnSync('cp', ['-r', dir, copy]);
    for (const name of await readdir(join(copy, 'database'))) await truncate(join(copy, 'database', name), 900);
    expect((await restore(copy, join(base, 'x'))).err).toMatch(/is damaged. Nothing was restored/);
    expect(existsSync(join(base, 'x'))).toBe(false);
  });

  it('goes on by itself when one is due, keeps so many runs, and what only older ones spoke of goes', async () => {
    const { services } = server.running;
    await server.agent().put('/api/backups/schedule').send({ every: 'day', dir: 'nowhere' }).expect(422);
    expect((await scheduleOf(services)).every).toBe('never');
    const { body } = await server.agent().put('/api/backups/schedule').send({ every: 'day', dir }).expect(200);
    expect(body).toMatchObject({ every: 'day', dir });
    for (let i = 0; i < 200 && (await scheduleOf(services)).last === null; i++) await delay(50);
    const { last } = await scheduleOf(services);
    expect(Date.now() - Date.parse(last ?? '')).toBeLessThan(60_000);
    expect(await backUpWhereDue(services, Date.now() + 20 * 3_600_000)).toBe(false);
    await saveSchedule(services, { every: 'week', dir, last });
    expect(await backUpWhereDue(services, Date.now() + 6 * DAY)).toBe(false);
    expect(await backUpWhereDue(services, Date.now() + 8 * DAY)).toBe(true);
    const stack = (await server.stacks(target)).find(({ name }: { name: string }) => name === 'OIII');
    await server.removeAndEmptyTrash('stack', stack.id);
    const there = () => existsSync(join(dir, 'files/stacks', `${stack.hash}.fits`));
    for (let i = 0; i < MAX_RUNS + 1; i++) {
      expect(there()).toBe(true);
      expect((await backUp()).state).toBe('done');
      if ((await readdir(join(dir, 'runs'))).length === MAX_RUNS && !there()) break;
    }
    expect(there()).toBe(false);
    const runs = await readdir(join(dir, 'runs'));
    expect(runs).toHaveLength(MAX_RUNS);
    expect(await readdir(join(dir, 'database'))).toHaveLength(MAX_RUNS);
    const newest = JSON.parse(await readFile(join(dir, 'runs', runs.sort().at(-1) ?? ''), 'utf8'));
    expect(newest.files.map(({ path }: { path: string }) => path)).not.toContain(`stacks/${stack.hash}.fits`);
  });
});
