import { setTimeout as delay } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { pruneRevisions } from '../thumbnails/revision';
import { fits, TestServer } from '../testing/api';

let server: TestServer;
let target: string;
let recipeId: string;

const recipe = (name: string, stack = 'Ha'): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
  strands: [{ id: 'Ha', from: { stack } }],
  cloth: { layers: [{ id: 'all', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
});
interface Told {
  readonly id: string;
  readonly number: number | null;
  readonly conflict: boolean;
  readonly label: string | null;
  readonly picture: string | null;
  readonly trouble: string | null;
}
const states = async (): Promise<Told[]> =>
  (await server.agent().get(`/api/recipes/${recipeId}/states`).expect(200)).body;
const until = async <T>(look: () => Promise<T | undefined>): Promise<T> => {
  for (let i = 0; i < 400; i++) {
    const found = await look();
    if (found !== undefined) return found;
    await delay(50);
  }
  throw new Error('it never came');
};

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('History');
  await server.bringIn(target, 'a_Ha.fits', fits(21, 'Ha'));
  recipeId = await server.newRecipe(target, recipe('One'));
  for (const [parent, name] of [
    [1, 'Two'],
    [2, 'Three'],
    [2, 'Late'],
  ] as const)
    await server
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent, body: recipe(name) });
});
afterAll(() => server.close());

describe('the earlier states of a recipe', () => {
  it('are all told, newest first, the other side of a conflict among them, and each can be read', async () => {
    const all = await states();
    expect(all.map(({ number, conflict }) => [number, conflict])).toEqual([
      [null, true],
      [3, false],
      [2, false],
      [1, false],
    ]);
    const { body } = await server.agent().get(`/api/states/${all[0].id}`).expect(200);
    expect(body.body).toEqual(recipe('Late'));
    await server.agent().get('/api/states/none').expect(404);
  });

  it('have pictures that are woven when they are asked for, and none is said with why', async () => {
    const [late] = await states();
    expect((await server.agent().post(`/api/states/${late.id}/picture`).expect(200)).body.picture).toBeNull();
    const picture = await until(async () => (await states())[0].picture ?? undefined);
    const { body, headers } = await server.agent().get(`/api/past-pictures/${picture}`).expect(200);
    expect(headers['content-type']).toBe('image/jpeg');
    expect(body.length).toBeGreaterThan(500);
    expect((await server.agent().post(`/api/states/${late.id}/picture`)).body.picture).toBe(picture);
    await server
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent: 3, body: recipe('Without', 'gone') });
    const [without] = await states();
    await server.agent().post(`/api/states/${without.id}/picture`).expect(200);
    expect(await until(async () => (await states())[0].trouble ?? undefined)).toMatch(/gone/);
  });

  it('can be named, and go by age, but for the named', async () => {
    const all = await states();
    const two = all.find(({ number }) => number === 2);
    await server.agent().patch(`/api/states/${two?.id}`).send({ label: '  the calm one ' }).expect(204);
    expect((await states()).find(({ number }) => number === 2)?.label).toBe('the calm one');
    await server
      .agent()
      .patch(`/api/states/${two?.id}`)
      .send({ label: 'x'.repeat(300) })
      .expect(422);
    // As they will be seen in a month: all of one day.
    await pruneRevisions(server.running.services, recipeId, Date.now() + 30 * 86_400_000);
    const left = await states();
    expect(left.map(({ number }) => number)).toEqual([4, null, 2, 1]);
  });
});
