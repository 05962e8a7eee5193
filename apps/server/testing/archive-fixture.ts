import { setTimeout as delay } from 'node:timers/promises';
import { expect } from 'vitest';
import { type TestServer, fits, raw } from './api';

/** The files of {@link travelling}. */
export const files = { Ha: fits(81, 'Ha'), OIII: fits(82, 'OIII') };

/** Its recipe, with more or less hydrogen in red. */
export const recipe = (red: number) => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Away and back',
  strands: [
    { id: 'Ha', from: { stack: 'Ha' } },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: red }, green: { OIII: 1 }, blue: { OIII: 1 } } },
        steps: [{ do: 'stretch' }],
      },
    ],
  },
});

/** A target with two stacks, a recipe of four states, one of which lost in a conflict, a swatch, a palette and a pattern. */
export async function travelling(server: TestServer): Promise<{ target: string; recipeId: string }> {
  const target = await server.newTarget('Travelling Lamp');
  await server.bringIn(target, 'a_Ha.fits', files.Ha);
  await server.bringIn(target, 'a_OIII.fits', files.OIII);
  const recipeId = await server.newRecipe(target, recipe(1));
  for (const [parent, red] of [
    [1, 0.8],
    [2, 0.5],
    [1, 0.1],
  ])
    await server
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent, body: recipe(red) });
  const kept = await server
    .agent()
    .post(`/api/targets/${target}/swatches`)
    .send({ recipeId, body: recipe(0.3), note: 'warm, for print' })
    .expect(201);
  await server
    .agent()
    .post('/api/patterns')
    .send({ name: 'Two steps', says: '', body: { kind: 'steps', roles: [], steps: [{ do: 'scale', multiply: 2 }] } })
    .expect(201);
  await server
    .agent()
    .post(`/api/targets/${target}/palettes`)
    .send({ name: 'Lamp light', recipe: recipe(0.7) })
    .expect(201);
  for (let i = 0; i < 200; i++) {
    const [swatch] = (await server.agent().get(`/api/targets/${target}/swatches`)).body;
    if (swatch.picture) break;
    await delay(50);
  }
  expect(kept.body.id).toBeTruthy();
  return { target, recipeId };
}

/** Packs a target and gives the file. */
export async function packed(
  server: TestServer,
  target: string,
  options: { originals?: boolean; impersonal?: boolean } = {},
): Promise<Buffer> {
  const asked = await server.agent().post(`/api/targets/${target}/archive`).send(options).expect(202);
  const { state, message, result } = await server.jobEnds(asked.body.job);
  if (state !== 'done') throw new Error(message ?? state);
  const { body, headers } = await server
    .agent()
    .get(`/api/archives/${result?.archive}/file`)
    .buffer(true)
    .parse((response, done) => {
      const pieces: Buffer[] = [];
      response.on('data', (piece: Buffer) => pieces.push(piece));
      response.on('end', () => done(null, Buffer.concat(pieces)));
    })
    .expect(200);
  expect(headers['content-disposition']).toMatch(/Travelling Lamp/);
  return body;
}

/** Brings an archive in; how that ended. */
export async function importArchive(server: TestServer, bytes: Buffer) {
  const { body } = await server.agent().put('/api/archives?name=lamp.zip').set(raw).send(bytes).expect(202);
  return server.jobEnds(body.job);
}
