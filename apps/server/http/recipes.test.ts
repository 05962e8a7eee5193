import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { fits, height, width, TestServer } from '../testing/api';

const recipe = (name: string): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } }, weights: 'share' },
        steps: [{ do: 'stretch' }],
      },
    ],
  },
});

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.open();
});

afterAll(() => server.close());

describe('recipes', () => {
  let target: string;
  beforeAll(async () => {
    target = await server.newTarget('Woven');
    await server.bringIn(target, 'a_Ha.fits', fits(11, 'Ha'));
    await server.bringIn(target, 'a_OIII.fits', fits(12, 'OIII'));
  });

  it('have revisions; a save that comes too late is refused, and both are kept', async () => {
    const { body: made } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('One') })
      .expect(201);
    expect(made.revision).toBe(1);
    const saved = await server
      .agent()
      .put(`/api/recipes/${made.id}`)
      .send({ parent: 1, body: recipe('Two') })
      .expect(200);
    expect(saved.body).toMatchObject({ revision: 2, name: 'Two' });
    const late = await server
      .agent()
      .put(`/api/recipes/${made.id}`)
      .send({ parent: 1, body: recipe('Late') })
      .expect(409);
    expect(late.body.error).toMatchObject({ code: 'conflict', revision: 2, body: { name: 'Two' } });
    const kept = await server.running.services.data.query(
      'SELECT conflict, JSON_VALUE(body, "$.name") AS name FROM revisions WHERE recipeId = ? ORDER BY createdAt',
      [made.id],
    );
    expect(kept.map((row: { conflict: number; name: string }) => [row.conflict, row.name])).toEqual([
      [0, 'One'],
      [0, 'Two'],
      [1, 'Late'],
    ]);
    expect((await server.agent().get(`/api/recipes/${made.id}`)).body.body).toEqual(recipe('Two'));
  });

  it('sent twice count once, also after a later save, and a conflict stays one', async () => {
    const { body: made } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('One') });
    const put = (key: string, parent: number, name: string) =>
      server
        .agent()
        .put(`/api/recipes/${made.id}`)
        .send({ parent, body: recipe(name), key });
    const [a, b, c] = ['a', 'b', 'c'].map((letter) => `${letter.repeat(8)}-aaaa-4aaa-8aaa-aaaaaaaaaaaa`);
    // The answer of the first was lost: it is sent again, at once and later.
    for (let i = 0; i < 2; i++) expect((await put(a, 1, 'Two').expect(200)).body.revision).toBe(2);
    expect((await put(b, 2, 'Three').expect(200)).body.revision).toBe(3);
    expect((await put(a, 1, 'Two').expect(200)).body.revision).toBe(2);
    for (let i = 0; i < 2; i++)
      expect((await put(c, 1, 'Late').expect(409)).body.error).toMatchObject({ code: 'conflict', revision: 3 });
    const rows = await server.running.services.data.query('SELECT id FROM revisions WHERE recipeId = ?', [made.id]);
    expect(rows).toHaveLength(4);
    const other = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('Other') });
    const stolen = await server
      .agent()
      .put(`/api/recipes/${other.body.id}`)
      .send({ parent: 1, body: recipe('X'), key: a })
      .expect(422);
    expect(stolen.body.error.message).toMatch(/take a new one/);
  });

  it('two saves at once: one wins, one is told', async () => {
    const { body: made } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('Race') });
    const both = await Promise.all(
      ['Left', 'Right'].map((name) =>
        server
          .agent()
          .put(`/api/recipes/${made.id}`)
          .send({ parent: 1, body: recipe(name) }),
      ),
    );
    expect(both.map((answer) => answer.status).sort()).toEqual([200, 409]);
  });

  it('that are wrong are refused with the path', async () => {
    const { body } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: { ...recipe('X'), strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'sharpn' }] }] } })
      .expect(422);
    expect(body.error).toMatchObject({ code: 'recipe-invalid', path: 'strands[0].steps[0].do' });
  });

  it('are measured by a job, and known at once the next time', async () => {
    const ask = {
      recipe: recipe('M'),
      paths: ['cloth'],
      also: [
        { figure: 'tone', path: 'strands[0]' },
        { figure: 'counts', path: 'strands[0]' },
      ],
    };
    // Who asks for what is known alone sets nothing going; imports have left what they measured.
    const path = `/api/targets/${target}/measure`;
    const { body: known } = await server
      .agent()
      .post(path)
      .send({ ...ask, known: true })
      .expect(200);
    expect(known.job).toBeNull();
    expect(
      Object.values(known.figures as Record<string, { kind: string }>)
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['counts', 'tone']);
    const first = await server.agent().post(`/api/targets/${target}/measure`).send(ask).expect(200);
    expect(await server.jobEnds(first.body.job)).toMatchObject({ state: 'done' });
    const second = await server.agent().post(`/api/targets/${target}/measure`).send(ask).expect(200);
    expect(second.body.job).toBeNull();
    const kinds = Object.values(second.body.figures as Record<string, { kind: string }>)
      .map((figure) => figure.kind)
      .sort();
    expect(kinds).toEqual(['counts', 'fit', 'tone', 'tone']);
  });

  it('are measured although something that is only looked at cannot be', async () => {
    const body = {
      ...recipe('S'),
      strands: [
        ...recipe('S').strands,
        { id: 'lost', from: { stack: 'OIII' }, steps: [{ do: 'continuum', broad: 'flat' }] },
        { id: 'flat', from: { formula: '0 * Ha + 0.1' }, steps: [] },
      ],
    };
    const ask = (paths: string[]) =>
      server
        .agent()
        .post(`/api/targets/${target}/measure`)
        .send({
          recipe: body,
          paths,
          also: [
            { figure: 'tone', path: 'strands[2]' },
            { figure: 'tone', path: 'strands[1]' },
          ],
        })
        .expect(200);
    const first = await ask(['strands[1]']);
    expect(await server.jobEnds(first.body.job)).toMatchObject({ state: 'done' });
    const second = await ask(['strands[1]']);
    expect(second.body.job).toBeNull();
    expect(
      Object.values(second.body.figures as Record<string, { kind: string }>)
        .map((figure) => figure.kind)
        .sort(),
    ).toEqual(['fit', 'tone', 'tone']);
    // Where the picture itself depends on it, that is told with the step, and it is not tried again.
    const third = await ask(['strands[2]']);
    expect(third.body.job).toBeNull();
    expect(third.body.obstacle).toMatch(/^lost › continuum: .*stars/);
    expect(Object.values(third.body.failed)).toEqual([third.body.obstacle]);
    expect(third.body.figures).toMatchObject(second.body.figures);
    expect((await ask(['strands[1]'])).body.obstacle).toBeNull();
  });

  it('name the step whose measurement fails; a change is tried anew', async () => {
    const ask = (level: number, known = false) =>
      server
        .agent()
        .post(`/api/targets/${target}/measure`)
        .send({
          recipe: {
            ...recipe('F'),
            strands: [
              { id: 'lost', from: { stack: 'OIII' }, steps: [{ do: 'continuum', broad: 'flat' }] },
              { id: 'flat', from: { formula: `0 * lost0 + ${level}` }, steps: [] },
              { id: 'lost0', from: { stack: 'OIII' } },
            ],
          },
          paths: ['strands[0]'],
          also: [],
          known,
        })
        .expect(200);
    for (const level of [0.2, 0.3]) {
      const first = await ask(level);
      expect(await server.jobEnds(first.body.job)).toMatchObject({
        state: 'failed',
        message: expect.stringMatching(/^lost › continuum: /),
      });
      expect((await ask(level, true)).body.obstacle).toMatch(/^lost › continuum: /);
      expect((await ask(level)).body.job).toBeNull();
    }
  });

  it('have a proof: the true full size as a pyramid, made once', async () => {
    const ask = { recipe: recipe('P'), path: 'cloth' };
    const first = await server.agent().post(`/api/targets/${target}/proof`).send(ask).expect(200);
    expect(await server.jobEnds(first.body.job)).toMatchObject({
      state: 'done',
      result: { pixels: first.body.pixels },
    });
    const second = await server.agent().post(`/api/targets/${target}/proof`).send(ask).expect(200);
    expect(second.body).toEqual({ pixels: first.body.pixels, kept: [], job: null });
    for (const plane of [0, 1, 2])
      await server.agent().get(`/api/pixels/${first.body.pixels}/${width}/${height}/0/${plane}/0/0`).expect(200);
    const other = await server
      .agent()
      .post(`/api/targets/${target}/proof`)
      .send({ ...ask, path: 'cloth.layers[0].of' })
      .expect(200);
    expect(other.body.pixels).not.toBe(first.body.pixels);
    await server
      .agent()
      .post(`/api/targets/${target}/proof`)
      .send({ ...ask, path: 'nowhere' })
      .expect(422);
  });

  it('are written at full size, and the file is the render of the command', async () => {
    const { body: made } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('Copper and teal') });
    const { body } = await server
      .agent()
      .post(`/api/targets/${target}/exports`)
      .send({ recipeId: made.id, format: 'fits' })
      .expect(202);
    expect(await server.jobEnds(body.job)).toMatchObject({ state: 'done' });
    const [row] = (await server.agent().get(`/api/targets/${target}/exports`)).body;
    expect(row).toMatchObject({ fileName: 'copper-and-teal-r1.fits', depth: 32, width, height });
    const file = await server.agent().get(`/api/exports/${row.id}/file`).expect(200);
    expect(file.headers['content-disposition']).toMatch(/copper-and-teal-r1.fits/);
    await server
      .agent()
      .post(`/api/targets/${target}/exports`)
      .send({ recipeId: made.id, format: 'jpg', depth: 16 })
      .expect(422);
    await server.removeAndEmptyTrash('export', row.id);
    expect(await readdir(join(server.root, 'exports'))).toEqual([]);
  });

  it('keep the stacks that they use', async () => {
    const rows = (await server.agent().get(`/api/targets/${target}/stacks`)).body as { id: string; name: string }[];
    const ha = rows.find((row) => row.name === 'Ha');
    const { body } = await server.agent().delete(`/api/stacks/${ha?.id}`).expect(409);
    expect(body.error.message).toMatch(/Cannot remove Ha: used in/);
    await server
      .agent()
      .patch(`/api/stacks/${ha?.id}`)
      .send({ filter: 'H-alpha narrow', domain: 'stretched' })
      .expect(200);
    await server.agent().patch(`/api/stacks/${ha?.id}`).send({ domain: 'linear', colour: 'red' }).expect(422);
  });
});
