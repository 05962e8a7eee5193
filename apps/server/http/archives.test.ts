import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestServer, fits, raw } from '../testing/api';
import { importArchive, files, packed, recipe, travelling } from '../testing/archive-fixture';

let here: TestServer;
let there: TestServer;
let target: string;
let recipeId: string;
let archive: Buffer;

/** Bytes that a recipe gives, by their sum. */
async function written(server: TestServer): Promise<string> {
  const asked = await server
    .agent()
    .post(`/api/targets/${target}/exports`)
    .send({ recipeId, format: 'tif' })
    .expect(202);
  const end = await server.jobEnds(asked.body.job);
  expect(end.message).toBeNull();
  return (await server.agent().get(`/api/targets/${target}/exports`)).body[0].sum;
}

/** All that lists tell of a target, without what two houses may tell differently. */
async function told(server: TestServer) {
  const get = async (path: string) => (await server.agent().get(`/api/${path}`).expect(200)).body;
  const stacks = await get(`targets/${target}/stacks`);
  const recipes = (await get(`targets/${target}/recipes`)) as { id: string }[];
  return {
    stacks,
    recipes: recipes.map(({ updatedAt: _, ...row }: { updatedAt?: string; id: string }) => row),
    bodies: await Promise.all(recipes.map(async ({ id }) => (await get(`recipes/${id}`)).body)),
    states: await Promise.all(
      recipes.map(async ({ id }) =>
        ((await get(`recipes/${id}/states`)) as { picture: unknown }[]).map(({ picture: _, ...row }) => row),
      ),
    ),
    swatches: await get(`targets/${target}/swatches`),
    patterns: await get('patterns'),
    palettes: await get(`targets/${target}/palettes`),
  };
}

beforeAll(async () => {
  here = await TestServer.open();
  there = await TestServer.open();
  ({ target, recipeId } = await travelling(here));
  archive = await packed(here, target);
}, 60_000);

afterAll(async () => {
  await here.close();
  await there.close();
});

describe('an archive', () => {
  it('brings a target to another house, the same to the bit', async () => {
    const { state, result } = await importArchive(there, archive);
    expect(state).toBe('done');
    expect(result).toMatchObject({
      targetId: target,
      stacks: 2,
      recipes: 1,
      states: 4,
      swatches: 1,
      palettes: 1,
      patterns: 1,
      notes: [],
    });
    expect(await told(there)).toEqual(await told(here));
    expect(await written(there)).toBe(await written(here));
    const [{ picture }] = (await here.agent().get(`/api/targets/${target}/swatches`)).body;
    const [a, b] = await Promise.all(
      [here, there].map(async (server) => readFile(join(server.root, 'swatches', picture))),
    );
    expect(a.equals(b)).toBe(true);
  });

  it('does no harm a second time', async () => {
    const before = await told(there);
    const { state, result } = await importArchive(there, archive);
    expect(state).toBe('done');
    expect(result).toMatchObject({
      stacks: 0,
      recipes: 0,
      states: 0,
      swatches: 0,
      palettes: 0,
      patterns: 0,
      notes: [],
    });
    expect(await told(there)).toEqual(before);
    expect(await readdir(join(there.root, 'incoming'))).toEqual([]);
    expect(await readdir(join(there.root, 'restoring'))).toEqual([]);
  });

  it('takes nothing from a recipe that went on: its states are beside the newest, which stays', async () => {
    await there
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent: 3, body: recipe(0.9) })
      .expect(200);
    await here
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent: 3, body: recipe(0.2) })
      .expect(200);
    const { result } = await importArchive(there, await packed(here, target));
    expect(result).toMatchObject({ recipes: 0, states: 1 });
    const { body: now } = await there.agent().get(`/api/recipes/${recipeId}`);
    expect(now).toMatchObject({ revision: 4, body: recipe(0.9) });
    const { body: states } = await there.agent().get(`/api/recipes/${recipeId}/states`);
    expect(states.filter(({ conflict }: { conflict: boolean }) => conflict)).toHaveLength(2);
  });

  it('brings back what lies in the trash, and leaves another stack its name', async () => {
    const [ha] = await there.stacks(target);
    await there.agent().delete(`/api/recipes/${recipeId}`).expect(204);
    await there.agent().delete(`/api/stacks/${ha.id}`).expect(204);
    await there.bringIn(target, 'other_Ha.fits', fits(89, 'Ha'));
    await there.agent().delete(`/api/targets/${target}`).expect(204);
    const { state, result } = await importArchive(there, archive);
    expect(state).toBe('done');
    expect(result).toMatchObject({
      stacks: 1,
      recipes: 1,
      notes: ['Another stack is called Ha here, so that of the archive is Ha-2.'],
    });
    expect((await there.stacks(target)).map(({ name }: { name: string }) => name).sort()).toEqual([
      'Ha',
      'Ha-2',
      'OIII',
    ]);
    await there.agent().get(`/api/recipes/${recipeId}`).expect(200);
  });

  it('without originals says which files it lacks, and is whole once they are dropped', async () => {
    const third = await TestServer.open();
    try {
      const small = await packed(here, target, { originals: false });
      expect(small.length).toBeLessThan(archive.length / 2);
      expect((await importArchive(third, small)).state).toBe('done');
      const lacking = async () => (await third.stacks(target)).map((row: { lacking: string | null }) => row.lacking);
      expect(await lacking()).toEqual(['missing', 'missing']);
      for (const [name, bytes] of Object.entries(files))
        await third.agent().put(`/api/targets/${target}/uploads?name=${name}.fits`).set(raw).send(bytes).expect(200);
      expect(await lacking()).toEqual([null, null]);
      expect(await written(third)).toBe(await written(here));
    } finally {
      await third.close();
    }
  });
});
