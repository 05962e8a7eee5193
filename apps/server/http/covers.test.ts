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
  target = await server.newTarget('Covered');
  await server.bringIn(target, 'c_Ha.fits', fits(41, 'Ha'));
  await server.bringIn(target, 'c_OIII.fits', fits(42, 'OIII'));
});

afterAll(() => server.close());

const body = (red: number, steps: object[] = [{ do: 'stretch' }], turn = 0) => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Covered',
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  cloth: {
    layers: [{ id: 'base', of: { mix: { red: { Ha: red }, green: { OIII: 1 }, blue: { OIII: 1 } } }, steps }],
    orient: { turn },
  },
});

const ask = async (id: string) => (await server.agent().get(`/api/recipes/${id}/cover`).expect(200)).body;

/** Asks until the cover shows the recipe as it is. */
async function cover(id: string): Promise<{ name: string; picture: Buffer }> {
  for (let i = 0; i < 200; i++) {
    const { name, fresh } = await ask(id);
    if (fresh) {
      const { body: picture } = await server.agent().get(`/api/covers/${name}`).buffer(true).expect(200);
      return { name, picture };
    }
    await delay(50);
  }
  throw new Error('the cover never came');
}

const add = async (of: object) =>
  (await server.agent().post(`/api/targets/${target}/recipes`).send({ body: of }).expect(201)).body;
const covers = () => readdir(join(server.root, 'covers'));

describe('covers', () => {
  it('are woven once, kept, and woven anew when the picture is another', async () => {
    const { id, revision } = await add(body(1));
    // To look at meanwhile any will do, and none is begun.
    const any = async () => (await server.agent().get(`/api/recipes/${id}/cover?any=1`).expect(200)).body.name;
    expect(await any()).toBeNull();
    const { body: jobs } = await server.agent().get(`/api/jobs?target=${target}`).expect(200);
    expect(jobs.map(({ kind }: { kind: string }) => kind)).not.toContain('cover');
    expect(await ask(id)).toEqual({ name: null, fresh: false });
    const first = await cover(id);
    expect(await any()).toBe(first.name);
    const { width: w, height: h, channels } = await sharp(first.picture).metadata();
    expect([w, h, channels]).toEqual([width, height, 3]);
    // A name is no part of the picture.
    const saved = await server
      .agent()
      .put(`/api/recipes/${id}`)
      .send({ parent: revision, body: { ...body(1), name: 'Otherwise' } })
      .expect(200);
    expect(await ask(id)).toEqual({ name: first.name, fresh: true });
    await server
      .agent()
      .put(`/api/recipes/${id}`)
      .send({ parent: saved.body.revision, body: body(0.3, [{ do: 'stretch' }], 90) })
      .expect(200);
    // The old one stays until then.
    expect(await ask(id)).toEqual({ name: first.name, fresh: false });
    const second = await cover(id);
    expect(second.name).not.toBe(first.name);
    const turned = await sharp(second.picture).metadata();
    expect([turned.width, turned.height]).toEqual([height, width]);
    expect((await covers()).filter((name) => name.startsWith(id))).toEqual([second.name]);
    await server.removeAndEmptyTrash('recipe', id);
    expect((await covers()).filter((name) => name.startsWith(id))).toEqual([]);
  });

  it('of linear pictures are brightened: their sky is to be seen', async () => {
    const { id } = await add(body(1, []));
    const { picture } = await cover(id);
    const { channels } = await sharp(picture).stats();
    for (const { mean } of channels) expect(mean).toBeGreaterThan(25);
  });

  it('are asked for once, however often, and not again where they cannot be made', async () => {
    const { id } = await add(body(1, [{ do: 'stretch' }, { do: 'no-such-thing' }])).catch(() => ({ id: undefined }));
    expect(id).toBeUndefined();
    const lost = await add({
      ...body(1),
      strands: [{ id: 'Ha', from: { stack: 'gone' } }, ...body(1).strands.slice(1)],
    });
    expect(await ask(lost.id)).toEqual({ name: null, fresh: true });
    const unlike = await add({
      ...body(1),
      strands: [
        { id: 'Ha', from: { stack: 'Ha' } },
        { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'continuum', broad: 'flat' }] },
        { id: 'flat', from: { formula: '0 * Ha + 0.1' } },
      ],
    });
    expect((await ask(unlike.id)).fresh).toBe(false);
    await ask(unlike.id);
    const jobs = async () =>
      (await server.agent().get('/api/jobs')).body.filter(
        (job: { kind: string; id: string; state: string }) => job.kind === 'cover' && job.state !== 'done',
      );
    for (let i = 0; i < 200 && (await jobs()).some((job: { state: string }) => job.state !== 'failed'); i++)
      await delay(50);
    expect(await jobs()).toHaveLength(1);
    expect(await ask(unlike.id)).toEqual({ name: null, fresh: true });
    expect(await jobs()).toHaveLength(1);
  });

  it('have names that lead nowhere else', async () => {
    await server.agent().get('/api/covers/..%2f..%2fpackage.json').expect(422);
    await server
      .agent()
      .get(`/api/covers/${'0'.repeat(8)}-0000-0000-0000-${'0'.repeat(12)}.${'0'.repeat(32)}.jpg`)
      .expect(404);
    await server.agent().get('/api/recipes/nothing/cover').expect(404);
  });
});
