import { setTimeout as delay } from 'node:timers/promises';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fits, height, TestServer, width } from '../testing/api';

let server: TestServer;
let target: string;

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Many colours');
  // Ten noises from side to side: the sky of this one is uneven.
  await server.bringIn(target, 'p_Ha.fits', fits(51, 'Ha', 0.01));
  await server.bringIn(target, 'p_OIII.fits', fits(52, 'OIII'));
});

afterAll(() => server.close());

interface Entry {
  id?: string;
  name: string;
  missing: string[];
  picture?: string;
  ready: boolean;
  trouble?: string;
  recipe?: { strands: { id: string }[] };
}

const list = async (of = target): Promise<Entry[]> =>
  (await server.agent().get(`/api/targets/${of}/palettes`).expect(200)).body.entries;
const weave = async (of = target): Promise<boolean> =>
  (await server.agent().post(`/api/targets/${of}/sheet`).expect(200)).body.weaving;

/** Asks until every picture that can be woven lies there. */
async function woven(): Promise<Entry[]> {
  for (let i = 0; i < 400; i++) {
    const entries = await list();
    if (entries.every(({ picture, ready, trouble }) => !picture || ready || trouble)) return entries;
    await delay(50);
  }
  throw new Error('the sheet never came');
}

const pictures = async () => (await readdir(join(server.root, 'sheets'))).filter((name) => name.startsWith(target));

const mine = (steps: object[] = [{ do: 'stretch' }]) => ({
  format: 'owl-loom-recipe',
  version: 1,
  strands: [{ id: 'h', from: { stack: 'Ha' }, steps: [{ do: 'crop', x: 1, y: 1, width: 9, height: 9 }] }],
  cloth: { layers: [{ of: { strand: 'h' }, steps }] },
});
const keep = (name: string, recipe: object) =>
  server.agent().post(`/api/targets/${target}/palettes`).send({ name, recipe });

describe('the contact sheet', () => {
  it('weaves every palette that the filters allow, once, and says what the others lack', async () => {
    const before = await list();
    const able = before.filter(({ missing }) => missing.length === 0).map(({ name }) => name);
    expect(able.sort()).toEqual(['HOO', 'Two lines, made green']);
    expect(before.find(({ name }) => name === 'SHO')?.missing).toEqual(['SII']);
    expect(before.every(({ ready }) => !ready)).toBe(true);
    expect(await weave()).toBe(true);
    const after = await woven();
    const hoo = after.find(({ name }) => name === 'HOO');
    const { body } = await server.agent().get(`/api/sheets/${hoo?.picture}`).buffer(true).expect(200);
    const picture = await sharp(body).metadata();
    expect([picture.width, picture.height, picture.channels]).toEqual([width, height, 3]);
    // Nothing is left to be woven, so that nothing is.
    expect(await weave()).toBe(false);
    expect(await pictures()).toHaveLength(2);
  });

  it('shows what the recipe shows that is made of it', async () => {
    const hoo = (await woven()).find(({ name }) => name === 'HOO');
    const { body: sheet } = await server.agent().get(`/api/sheets/${hoo?.picture}`).buffer(true).expect(200);
    const { body: recipe } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: hoo?.recipe })
      .expect(201);
    let cover: { name: string | null; fresh: boolean } = { name: null, fresh: false };
    for (let i = 0; i < 400 && !cover.fresh; i++) {
      cover = (await server.agent().get(`/api/recipes/${recipe.id}/cover`).expect(200)).body;
      await delay(50);
    }
    const { body: truth } = await server.agent().get(`/api/covers/${cover.name}`).buffer(true).expect(200);
    const [a, b] = await Promise.all([sheet, truth].map((jpeg) => sharp(jpeg).removeAlpha().raw().toBuffer()));
    const off = a.reduce((sum: number, v: number, i: number) => sum + Math.abs(v - b[i]), 0) / a.length;
    expect(off).toBeLessThan(2);
  });

  it('is empty for a target without filters', async () => {
    const bare = await server.newTarget('Bare');
    expect((await list(bare)).every(({ recipe }) => recipe === undefined)).toBe(true);
    expect(await weave(bare)).toBe(false);
  });

  it('goes with its target', async () => {
    const gone = await server.newTarget('Gone');
    await server.bringIn(gone, 'g_Ha.fits', fits(53, 'Ha'));
    await server.bringIn(gone, 'g_OIII.fits', fits(54, 'OIII'));
    await weave(gone);
    for (let i = 0; i < 400 && (await list(gone)).some(({ picture, ready }) => picture && !ready); i++) await delay(50);
    await server.removeAndEmptyTrash('target', gone);
    const left = await readdir(join(server.root, 'sheets'));
    expect(left.filter((name) => name.startsWith(gone))).toEqual([]);
  });

  it('gives a palette that was kept as a file, and takes it in again beside the one that has its name', async () => {
    const hoo = (await list(target)).find(({ name }) => name === 'HOO');
    const kept = await server
      .agent()
      .post(`/api/targets/${target}/palettes`)
      .send({ name: 'Lent out', says: 'for a friend', recipe: hoo?.recipe })
      .expect(201);
    const { body: file, headers } = await server.agent().get(`/api/palettes/${kept.body.id}/file`).expect(200);
    expect(headers['content-disposition']).toMatch(/Lent out\.palette\.json/);
    expect(file).toMatchObject({ format: 'owl-loom-palette', version: 1, name: 'Lent out', says: 'for a friend' });
    const { name, says, recipe } = file;
    const { body: again } = await server.agent().post('/api/palettes').send({ name, says, recipe }).expect(201);
    expect(again).toMatchObject({ name: 'Lent out-2', says: 'for a friend' });
    const entries = (await list(target)).filter((entry) => entry.name.startsWith('Lent out'));
    // Both weave the same but for their names.
    expect(entries.map((entry) => ({ ...entry.recipe, name: '' }))[0]).toEqual({ ...entries[1].recipe, name: '' });
    await server
      .agent()
      .post('/api/palettes')
      .send({ name: 'Broken', says: '', recipe: { format: 'x' } })
      .expect(422);
    await server.agent().get('/api/palettes/none/file').expect(404);
    for (const id of [kept.body.id, again.id]) await server.agent().delete(`/api/palettes/${id}`).expect(204);
  });

  it('has names that lead nowhere else', async () => {
    await server.agent().get('/api/sheets/..%2f..%2fpackage.json').expect(422);
    await server
      .agent()
      .get(`/api/sheets/${target}.${'0'.repeat(32)}.jpg`)
      .expect(404);
  });
});

describe('palettes that people keep', () => {
  it('stand with the others on every target, begun as its stacks need it, and can be removed', async () => {
    const { body } = await keep('Mine', mine()).expect(201);
    const kept = (await list()).find(({ name }) => name === 'Mine');
    expect(kept).toMatchObject({ id: body.id, missing: [] });
    expect(kept?.recipe?.strands).toEqual([{ id: 'h', from: { stack: 'Ha' }, steps: [{ do: 'gradient' }] }]);
    const elsewhere = await server.newTarget('Elsewhere');
    expect((await list(elsewhere)).find(({ name }) => name === 'Mine')?.missing).toEqual(['Ha']);
    await server.agent().delete(`/api/palettes/${body.id}`).expect(204);
    expect((await list()).some(({ name }) => name === 'Mine')).toBe(false);
  });

  it('are brightened where they are linear, and told where they cannot be woven', async () => {
    await keep('Linear', mine([])).expect(201);
    const flat = {
      ...mine(),
      strands: [
        { id: 'h', from: { stack: 'Ha' }, steps: [{ do: 'continuum', broad: 'flat' }] },
        { id: 'flat', from: { formula: '0 * h2 + 0.1' } },
        { id: 'h2', from: { stack: 'OIII' } },
      ],
    };
    await keep('Hopeless', flat).expect(201);
    expect(await weave()).toBe(true);
    const entries = await woven();
    expect(entries.find(({ name }) => name === 'Hopeless')?.trouble).toBeTruthy();
    const linear = entries.find(({ name }) => name === 'Linear');
    const { body } = await server.agent().get(`/api/sheets/${linear?.picture}`).buffer(true).expect(200);
    const { channels } = await sharp(body).stats();
    expect(channels[0].mean).toBeGreaterThan(25);
    expect(await weave()).toBe(false);
  });

  it('refuses what cannot be kept', async () => {
    expect((await keep('SHO', mine()).expect(409)).body.error.message).toMatch(/already/);
    await keep('', mine()).expect(422);
    await keep('Broken', { ...mine(), version: 9 }).expect(422);
    const lost = { ...mine(), strands: [{ id: 'h', from: { stack: 'nowhere' } }] };
    expect((await keep('Lost', lost).expect(422)).body.error.message).toMatch(/nowhere/);
  });
});
