import { readdir, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Trashed, purgeExpired } from '../maintenance/trash';
import type { TrashKind } from '@owl-loom/api/maintenance';
import { deleteOrphans } from '../maintenance/delete-orphans';
import { notes } from '../storage/maintenance-log';
import { TestServer, fits, hydrogen } from '../testing/api';

let server: TestServer;
let target: string;
let recipeId: string;

const recipe = hydrogen('Thrown');
const DAY = 24 * 3_600_000;

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Old Lamp');
  await server.bringIn(target, 't_Ha.fits', fits(61, 'Ha'));
  recipeId = await server.newRecipe(target, recipe);
});

afterAll(() => server.close());

const trash = async (): Promise<(Omit<Trashed, 'deletedAt' | 'until'> & { deletedAt: string; until: string })[]> =>
  (await server.agent().get('/api/trash').expect(200)).body;
const back = (kind: TrashKind, id: string) => server.agent().post(`/api/trash/${kind}/${id}/back`);
const stacks = async (): Promise<{ id: string; name: string; filter: string }[]> =>
  (await server.agent().get(`/api/targets/${target}/stacks`).expect(200)).body;
const folder = (name: string) => readdir(join(server.root, name));

describe('the trash', () => {
  it('takes a recipe with its states and gives it back as it was, in its place', async () => {
    const { body: later } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: { ...recipe, name: 'Later' } })
      .expect(201);
    const before = (await server.agent().get(`/api/targets/${target}/recipes`)).body;
    await server.agent().delete(`/api/recipes/${recipeId}`).expect(204);
    const { body } = await server.agent().get(`/api/recipes/${recipeId}`).expect(410);
    expect(body.error.message).toMatch(/is in the trash/);
    await server.agent().put(`/api/recipes/${recipeId}`).send({ parent: 1, body: recipe }).expect(410);
    const [row] = await trash();
    expect(row).toMatchObject({ kind: 'recipe', id: recipeId, name: 'Thrown', target: 'Old Lamp' });
    expect(new Date(row.until).getTime() - new Date(row.deletedAt).getTime()).toBe(30 * DAY);
    await back('recipe', recipeId).expect(200);
    expect((await server.agent().get(`/api/targets/${target}/recipes`)).body).toEqual(before);
    expect((await server.agent().get(`/api/recipes/${recipeId}`).expect(200)).body.body).toEqual(recipe);
    await back('recipe', recipeId).expect(404);
    await server.removeAndEmptyTrash('recipe', later.id);
    expect(await trash()).toEqual([]);
  });

  it('keeps the file of a stack, and its name for no one', async () => {
    const id = await server.bringIn(target, 't_OIII.fits', fits(62, 'OIII'));
    await server.agent().patch(`/api/stacks/${id}`).send({ name: 'Teal' }).expect(200);
    const files = await folder('stacks');
    const pixels = await folder('pixels');
    await server.agent().delete(`/api/stacks/${id}`).expect(204);
    expect((await stacks()).map(({ name }) => name)).toEqual(['Ha']);
    expect(await folder('stacks')).toEqual(files);
    expect(await folder('pixels')).toEqual(pixels);
    const other = await server.bringIn(target, 'other_OIII.fits', fits(63, 'OIII'));
    await server.agent().patch(`/api/stacks/${other}`).send({ name: 'teal' }).expect(200);
    expect((await back('stack', id).expect(200)).body).toEqual({ name: 'Teal-2' });
    expect((await stacks()).map(({ name }) => name)).toEqual(['Ha', 'Teal-2', 'teal']);
    await server.removeAndEmptyTrash('stack', other);
  });

  it('does not stand in the way of a file that is brought again', async () => {
    const id = await server.bringIn(target, 't_SII.fits', fits(64, 'SII'));
    await server.agent().delete(`/api/stacks/${id}`).expect(204);
    const again = await server.bringIn(target, 't_SII.fits', fits(64, 'SII'));
    expect(again).not.toBe(id);
    const { body } = await back('stack', id).expect(422);
    expect(body.error.message).toMatch(/imported again as SII/);
    const files = await folder('stacks');
    await server.agent().delete(`/api/trash/stack/${id}`).expect(204);
    // The other needs the same file.
    expect(await folder('stacks')).toEqual(files);
    const [tile] = (await server.agent().get(`/api/targets/${target}/stacks`)).body.slice(-1);
    await server.agent().get(`/api/pixels/${tile.pixels}/210/150/0/0/0/0`).expect(200);
  });

  it('takes a target whole: what was thrown away in it before is not told apart, and comes back with it', async () => {
    const other = await server.newTarget('Whole');
    const stack = await server.bringIn(other, 'w_Ha.fits', fits(65, 'Ha'));
    await server.agent().delete(`/api/stacks/${stack}`).expect(204);
    await server.agent().delete(`/api/targets/${other}`).expect(204);
    expect((await server.agent().get('/api/targets')).body.map(({ id }: { id: string }) => id)).toEqual([target]);
    expect((await trash()).map(({ kind, id }) => [kind, id])).toEqual([['target', other]]);
    const { body } = await back('stack', stack).expect(410);
    expect(body.error.message).toMatch(/Restore that first/);
    await back('target', other).expect(200);
    expect((await trash()).map(({ kind, id }) => [kind, id])).toEqual([['stack', stack]]);
    await back('stack', stack).expect(200);
    await server.removeAndEmptyTrash('target', other);
  });

  it('survives a new start, and is emptied by hand or after thirty days', async () => {
    const stack = await server.bringIn(target, 'l_L.fits', fits(66, 'L'));
    const files = await folder('stacks');
    await server.agent().delete(`/api/stacks/${stack}`).expect(204);
    await server.restart();
    expect(await folder('stacks')).toEqual(files);
    const { services } = server.running;
    expect(await purgeExpired(services, Date.now() + 29 * DAY)).toBe(0);
    expect(await purgeExpired(services, Date.now() + 31 * DAY)).toBe(1);
    expect((await folder('stacks')).length).toBe(files.length - 1);
    await server.agent().delete(`/api/recipes/${recipeId}`).expect(204);
    expect((await server.agent().delete('/api/trash').expect(200)).body).toEqual({ gone: 1 });
    await back('recipe', recipeId).expect(404);
  });

  it('refuses what it does not know in one sentence', async () => {
    for (const [kind, id, status] of [
      ['recipe', 'none', 404],
      ['planet', target, 422],
      ['target', target, 404],
    ] as const) {
      const { body } = await server.agent().delete(`/api/trash/${kind}/${id}`).expect(status);
      expect(body.error.message).toMatch(/\w+ .*\.$/);
    }
    expect((await stacks()).length).toBeGreaterThan(0);
  });
});

describe('sweeping', () => {
  const leave = async (name: string): Promise<string> => {
    const path = join(server.root, name);
    await writeFile(path, 'left by a fault');
    return path;
  };

  it('takes what no row speaks of, once it is old, and nothing else', async () => {
    const { services } = server.running;
    const there = await Promise.all(['stacks', 'pixels', 'exports', 'covers', 'sheets', 'past'].map(folder));
    const old = new Date(Date.now() - 2 * DAY);
    const strays = ['stacks/0123.fits', 'exports/nobody.tif', 'covers/none.0.jpg', 'past/none.0.jpg', 'sheets/x.part'];
    for (const name of strays) await utimes(await leave(name), old, old);
    await leave('exports/just-now.tif');
    const swept = await deleteOrphans(services);
    expect(swept).toMatchObject({ files: strays.length, bytes: strays.length * 15 });
    expect(await folder('exports')).toEqual([...there[2], 'just-now.tif'].sort());
    await server.restart();
    expect(await Promise.all(['stacks', 'pixels', 'exports', 'covers', 'sheets', 'past'].map(folder))).toEqual(there);
    expect((await notes(server.running.services)).map(({ says }) => says)).toContainEqual(
      'Cleaned up: unreferenced files (1, 1 kB).',
    );
  });

  it('forgets jobs that ended long ago, and remembers the latest', async () => {
    const { services } = server.running;
    const count = async (): Promise<number> =>
      Number((await services.data.query('SELECT COUNT(*) AS n FROM jobs'))[0].n);
    const before = await count();
    for (let i = 0; i < 230; i++)
      await services.data.query(
        "INSERT INTO jobs (id, kind, targetId, state, title, payload, progress, attempts, updatedAt) VALUES (?, 'measure', ?, ?, 'old', '{}', 1, 1, '2020-01-01' + INTERVAL ? SECOND)",
        [`old-${i}`, target, i === 0 ? 'queued' : 'done', i],
      );
    expect((await deleteOrphans(services)).jobs).toBeGreaterThan(20);
    expect(await count()).toBeLessThan(before + 230);
    expect(await count()).toBeGreaterThanOrEqual(200);
    expect((await services.data.query("SELECT id FROM jobs WHERE id = 'old-0'")).length).toBe(1);
  });
});
