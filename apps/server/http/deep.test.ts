import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestServer, fits, hydrogen } from '../testing/api';
import { isSentence, refused } from '../testing/raw-request';

let server: TestServer;
let target: string;

const recipe = hydrogen('Odd');

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Deep');
  await server.bringIn(target, 'o_Ha.fits', fits(31, 'Ha'));
});
afterAll(() => server.close());

describe('large and deep recipes', () => {
  const groups = (depth: number): unknown => {
    let layer: unknown = { id: 'leaf', of: { strand: 'Ha' } };
    for (let i = 0; i < depth; i++) layer = { id: `group${i}`, of: { layers: [layer] } };
    return { ...recipe, cloth: { layers: [layer] } };
  };
  const add = (body: unknown) => server.agent().post(`/api/targets/${target}/recipes`).send({ body });

  it('as deep as the schema allows are kept; deeper ones are refused with the depth that is allowed', async () => {
    const deepest = async (): Promise<number> => {
      let depth = 0;
      while (depth < 200 && (await add(groups(depth + 1))).status === 201) depth++;
      return depth;
    };
    const depth = await deepest();
    expect(depth).toBeGreaterThanOrEqual(8);
    const { body } = await add(groups(depth + 1)).expect(422);
    isSentence(body.error.message);
    expect(body.error.message).toMatch(new RegExp(`\\b${depth}\\b`));
    for (const far of [40, 200, 1000])
      await refused(server.running.address, {
        method: 'POST',
        path: `/api/targets/${target}/recipes`,
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ body: groups(far) }),
      });
  });

  it('of two hundred strands answer', async () => {
    const strands = Array.from({ length: 200 }, (_, i) => ({
      id: `s${i}`,
      from: { stack: 'Ha' },
      steps: [{ do: 'scale', multiply: 1 + i / 200 }],
    }));
    const weights = Object.fromEntries(strands.map(({ id }) => [id, 1]));
    const body = {
      ...recipe,
      strands,
      cloth: {
        layers: [
          { id: 'base', of: { mix: { red: weights, green: weights, blue: weights } }, steps: [{ do: 'stretch' }] },
        ],
      },
    };
    const made = await add(body).expect(201);
    const asked = { recipe: body, paths: ['cloth'], also: [] };
    const { body: told } = await server.agent().post(`/api/targets/${target}/measure`).send(asked).expect(200);
    if (told.job) expect((await server.jobEnds(told.job)).state).toBe('done');
    await server.agent().get(`/api/recipes/${made.body.id}`).expect(200);
  });

  it('of more steps than anyone has are refused by their place before anything is done with them', async () => {
    const steps = Array.from({ length: 100_000 }, () => ({ do: 'level-sky' }));
    const large = { ...recipe, strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps }] };
    const { body } = await add(large).expect(413);
    expect(body.error).toMatchObject({ code: 'recipe-large', path: 'strands[0].steps' });
    isSentence(body.error.message);
    await server
      .agent()
      .post(`/api/targets/${target}/measure`)
      .send({ recipe: large, paths: ['cloth'], also: [] })
      .expect(413);
  });

  it('in the longest chain that is taken answer', async () => {
    const strands = Array.from({ length: 9 }, (_, i) => ({
      id: `s${i}`,
      from: i === 0 ? { stack: 'Ha' } : { strand: `s${i - 1}` },
      steps: Array.from({ length: 200 }, () => ({ do: 'scale', multiply: 1 })),
    }));
    const layers = [{ id: 'base', of: { strand: 's8' }, steps: [{ do: 'stretch' }] }];
    const body = { ...recipe, strands, cloth: { layers } };
    await add(body).expect(201);
    const { body: told } = await server
      .agent()
      .post(`/api/targets/${target}/measure`)
      .send({ recipe: body, paths: ['cloth'], also: [] })
      .expect(200);
    if (told.job) expect((await server.jobEnds(told.job)).state).toBe('done');
  });

  it('are refused by the number of their lists before they are read', async () => {
    const path = `/api/targets/${target}/recipes`;
    const send = (body: string) =>
      refused(server.running.address, { method: 'POST', path, headers: { 'Content-Type': 'application/json' }, body });
    await send(`{"body":[${'[],'.repeat(1_300_000)}0]}`);
    await send('['.repeat(1_900_000) + ']'.repeat(1_900_000));
    await send(`{"body":${'{"a":'.repeat(600_000)}1${'}'.repeat(600_000)}}`);
  });

  it('that this version cannot read stand in nobody’s way', async () => {
    const { body: made } = await add(recipe).expect(201);
    await server.running.services.data.query('UPDATE revisions SET body = ? WHERE recipeId = ?', [
      JSON.stringify({ format: 'owl-loom-recipe', version: 1, strands: [{ id: 'x', from: { what: 1 } }] }),
      made.id,
    ]);
    const other = await server.bringIn(target, 'o_SII.fits', fits(33, 'SII'));
    await server.agent().patch(`/api/stacks/${other}`).send({ name: 'Sulphur' }).expect(200);
    await server.agent().delete(`/api/stacks/${other}`).expect(204);
    await server.agent().get(`/api/targets/${target}/stacks`).expect(200);
    const { status, body } = await server.agent().get(`/api/recipes/${made.id}/cover`);
    expect(status).toBeLessThan(500);
    if (status >= 400) isSentence(body.error.message);
  });
});
