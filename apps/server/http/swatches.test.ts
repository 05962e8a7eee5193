import { setTimeout as delay } from 'node:timers/promises';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Swatch } from '../storage/db/entities';
import { fits, height, TestServer, width } from '../testing/api';

let server: TestServer;
let target: string;
let recipeId: string;

const recipe = (red: number, stack = 'Ha') => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Kept',
  strands: [{ id: 'Ha', from: { stack }, steps: [] }],
  cloth: {
    layers: [
      { id: 'base', of: { mix: { red: { Ha: red }, green: { Ha: 1 }, blue: { Ha: 1 } } }, steps: [{ do: 'stretch' }] },
    ],
  },
});

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Kept');
  await server.bringIn(target, 'c_Ha.fits', fits(41, 'Ha'));
  recipeId = await server.newRecipe(target, recipe(1));
});

afterAll(() => server.close());

const keep = (body: object, status = 201) =>
  server
    .agent()
    .post(`/api/targets/${target}/swatches`)
    .send({ recipeId, ...body })
    .expect(status);
const list = async (): Promise<Omit<Swatch, 'body'>[]> =>
  (await server.agent().get(`/api/targets/${target}/swatches`).expect(200)).body;

/** Waits until a swatch has its picture, or cannot have one. */
async function woven(id: string): Promise<Omit<Swatch, 'body'>> {
  for (let i = 0; i < 200; i++) {
    const found = (await list()).find((swatch) => swatch.id === id);
    if (found?.picture || found?.trouble) return found;
    await delay(50);
  }
  throw new Error('the picture never came');
}

const pictures = () => readdir(join(server.root, 'swatches'));

describe('swatches', () => {
  it('keep a state with its picture, whatever becomes of the recipe, and the latest is the cover of its target', async () => {
    const { body: first } = await keep({ body: recipe(0.2), note: 'warm' });
    expect(first).toMatchObject({ name: 'Kept', note: 'warm', picture: null, recipeId });
    const { picture } = await woven(first.id);
    const { body: bytes } = await server.agent().get(`/api/swatch-pictures/${picture}`).buffer(true).expect(200);
    const { width: w, height: h } = await sharp(bytes).metadata();
    expect([w, h]).toEqual([width, height]);
    await server
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent: 1, body: recipe(0.9) })
      .expect(200);
    const { body: whole } = await server.agent().get(`/api/swatches/${first.id}`).expect(200);
    expect(whole.body).toEqual(recipe(0.2));
    const { body: second } = await keep({ body: recipe(0.9), name: ' Bold ' });
    expect((await woven(second.id)).name).toBe('Bold');
    expect((await list()).map(({ name }) => name)).toEqual(['Bold', 'Kept']);
    const { body: card } = await server.agent().get(`/api/targets/${target}`).expect(200);
    expect(card.cover).toMatch(new RegExp(`^${second.id}`));
  });

  it('are renamed and noted, and removed with their pictures', async () => {
    const [{ id }] = await list();
    await server.agent().patch(`/api/swatches/${id}`).send({ name: 'Quiet', note: 'for print' }).expect(200);
    expect((await list())[0]).toMatchObject({ name: 'Quiet', note: 'for print' });
    expect(await pictures()).toHaveLength(2);
    await server.removeAndEmptyTrash('swatch', id);
    expect(await pictures()).toHaveLength(1);
    await server.agent().get(`/api/swatches/${id}`).expect(404);
  });

  it('say why they have no picture, and are woven again once they can be', async () => {
    const { body: lacking } = await keep({ body: recipe(1, 'OIII'), name: 'Lacking' });
    expect((await woven(lacking.id)).trouble).toMatch(/OIII/);
    await server.bringIn(target, 'c_OIII.fits', fits(42, 'OIII'));
    await server.agent().post(`/api/swatches/${lacking.id}/weave`).expect(200);
    expect((await woven(lacking.id)).picture).not.toBeNull();
  });

  it('refuse what they cannot keep, in one sentence, and keep nothing of it', async () => {
    const before = (await list()).length;
    for (const bad of [
      { body: { format: 'no' } },
      { body: recipe(1), name: ' ' },
      { body: recipe(1), recipeId: 'none' },
      {},
    ]) {
      const { status, body } = await server
        .agent()
        .post(`/api/targets/${target}/swatches`)
        .send({ recipeId, ...bad });
      expect([400, 404, 422]).toContain(status);
      expect(body.error.message).toMatch(/\w/);
    }
    await server.agent().patch(`/api/swatches/none`).send({ name: 'x' }).expect(404);
    await server.agent().get('/api/swatch-pictures/..%2F..%2Fetc').expect(422);
    expect((await list()).length).toBe(before);
  });

  it('go with their target', async () => {
    await server.removeAndEmptyTrash('target', target);
    expect(await pictures()).toEqual([]);
  });
});
