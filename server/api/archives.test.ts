import { createHash } from 'node:crypto';
import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { MANIFEST, type Manifest } from '../archive/manifest';
import { openArchive } from '../archive/open';
import { TestServer, fits, raw } from '../testing/api';

let here: TestServer;
let there: TestServer;
let target: string;
let recipeId: string;
let archive: Buffer;
let folder: string;
const files = { Ha: fits(81, 'Ha'), OIII: fits(82, 'OIII') };

const recipe = (red: number) => ({
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

/** Packs a target and gives the file. */
async function packed(server: TestServer, originals = true): Promise<Buffer> {
  const asked = await server.agent().post(`/api/targets/${target}/archive`).send({ originals }).expect(202);
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
async function broughtIn(server: TestServer, bytes: Buffer) {
  const { body } = await server.agent().put('/api/archives?name=lamp.zip').set(raw).send(bytes).expect(202);
  return server.jobEnds(body.job);
}

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
  };
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-archive-'));
  here = await TestServer.open();
  there = await TestServer.open();
  target = await here.newTarget('Travelling Lamp');
  await here.bringIn(target, 'a_Ha.fits', files.Ha);
  await here.bringIn(target, 'a_OIII.fits', files.OIII);
  recipeId = (
    await here
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe(1) })
      .expect(201)
  ).body.id;
  for (const [parent, red] of [
    [1, 0.8],
    [2, 0.5],
    [1, 0.1],
  ])
    await here
      .agent()
      .put(`/api/recipes/${recipeId}`)
      .send({ parent, body: recipe(red) });
  const kept = await here
    .agent()
    .post(`/api/targets/${target}/swatches`)
    .send({ recipeId, body: recipe(0.3), note: 'warm, for print' })
    .expect(201);
  await here
    .agent()
    .post('/api/patterns')
    .send({ name: 'Two steps', says: '', body: { kind: 'steps', steps: [{ do: 'scale', multiply: 2 }] } });
  await here
    .agent()
    .post(`/api/targets/${target}/palettes`)
    .send({ name: 'Lamp light', recipe: recipe(0.7) })
    .expect(201);
  for (let i = 0; i < 200; i++) {
    const [swatch] = (await here.agent().get(`/api/targets/${target}/swatches`)).body;
    if (swatch.picture) break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  expect(kept.body.id).toBeTruthy();
  archive = await packed(here);
}, 60_000);

afterAll(async () => {
  await here.close();
  await there.close();
  await rm(folder, { recursive: true, force: true });
});

describe('an archive', () => {
  it('brings a target to another house, the same to the bit', async () => {
    const { state, result } = await broughtIn(there, archive);
    expect(state).toBe('done');
    expect(result).toMatchObject({
      targetId: target,
      stacks: 2,
      recipes: 1,
      states: 4,
      swatches: 1,
      palettes: 1,
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
    const { state, result } = await broughtIn(there, archive);
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
    const { result } = await broughtIn(there, await packed(here));
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
    const { state, result } = await broughtIn(there, archive);
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
      const small = await packed(here, false);
      expect(small.length).toBeLessThan(archive.length / 2);
      expect((await broughtIn(third, small)).state).toBe('done');
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

describe('an archive that is not what it should be', () => {
  let clean: TestServer;
  beforeAll(async () => {
    clean = await TestServer.open();
  });
  afterAll(() => clean.close());

  const zip = async (entries: Record<string, unknown>): Promise<Buffer> => {
    const made = new ZipFile();
    for (const [name, value] of Object.entries(entries))
      made.addBuffer(Buffer.isBuffer(value) ? value : Buffer.from(JSON.stringify(value)), name);
    made.end();
    const pieces: Buffer[] = [];
    for await (const piece of made.outputStream) pieces.push(piece as Buffer);
    return Buffer.concat(pieces);
  };
  const manifest = async (): Promise<Manifest> => {
    const path = join(folder, 'good.zip');
    await writeFile(path, archive);
    const opened = await openArchive(path, 'good.zip');
    opened.close();
    return opened.manifest;
  };
  const refused = async (bytes: Buffer, says: RegExp): Promise<void> => {
    const { state, message } = await broughtIn(clean, bytes);
    expect(state).toBe('failed');
    expect(message).toMatch(says);
    expect(message).toMatch(/^[^\n]{20,320}\.$/);
    // Nothing is kept of it, in no place.
    expect((await clean.agent().get('/api/targets')).body).toEqual([]);
    for (const name of ['stacks', 'swatches', 'incoming', 'restoring', 'pixels'])
      expect(await readdir(join(clean.root, name))).toEqual([]);
  };

  it('is refused in one sentence, and nothing of it is brought in', async () => {
    await refused(Buffer.from('no zip at all'), /is cut off or is no zip/);
    await refused(archive.subarray(0, archive.length - 500), /is cut off or is no zip/);
    await refused(await zip({ 'readme.txt': 'a letter' }), /is no archive of Owl Loom/);
    await refused(await zip({ [MANIFEST]: { format: 'other' } }), /is no archive of Owl Loom/);
    await refused(await zip({ [MANIFEST]: { ...(await manifest()), version: 2 } }), /made by a newer Owl Loom/);
    await refused(await zip({ [MANIFEST]: await manifest() }), /lacks .*, which it says it holds/);
  });

  it('cannot lead out of its folder, by names of entries or by what the manifest says', async () => {
    const climbing = await zip({ [MANIFEST]: await manifest(), 'aa/aa/etc/evil': 'x' });
    const text = climbing.toString('latin1').replaceAll('aa/aa/etc/evil', '../../etc/evil');
    await refused(Buffer.from(text, 'latin1'), /lead out of its own folder/);
    const own = await manifest();
    const [first] = own.recipes;
    const bad = { ...first.states[0], recipe: { ...first.states[0].recipe, entry: '../../recipes/x.json' } };
    const said = { ...own, recipes: [{ ...first, states: [bad] }] };
    await refused(await zip({ [MANIFEST]: said }), /does not hold together/);
  });

  it('with a wrong hash, or an original of another stack, is refused', async () => {
    const own = await manifest();
    const [stack] = own.stacks;
    const entry = `originals/${stack.hash}.fits`;
    const only = { ...own, recipes: [], swatches: [], palettes: [], patterns: [] };
    const one = { ...only, stacks: [stack] };
    await refused(await zip({ [MANIFEST]: one, [entry]: Buffer.alloc(files.Ha.length, 1) }), /is not what was put in/);
    await refused(await zip({ [MANIFEST]: one, [entry]: Buffer.alloc(10) }), /has another size/);
    const other = createHash('sha256').update('x').digest('hex');
    const swapped = { ...one, stacks: [{ ...stack, original: { entry, bytes: 1, sha256: other } }] };
    await refused(
      await zip({ [MANIFEST]: swapped, [entry]: Buffer.from('x') }),
      /not the one that its stack was made of/,
    );
  });

  it('with any byte changed is refused, or gives what was put in', async () => {
    const path = join(folder, 'bitten.zip');
    const all = await manifest();
    await fc.assert(
      fc.asyncProperty(
        fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true }),
        fc.integer({ min: 1, max: 255 }),
        async (share, by) => {
          const bytes = Buffer.from(archive);
          const place = Math.floor(share * bytes.length);
          bytes[place] = (bytes[place] + by) % 256;
          await writeFile(path, bytes);
          try {
            const opened = await openArchive(path, 'bitten.zip');
            try {
              for (const { original } of opened.manifest.stacks)
                if (original) await opened.extract(original, join(folder, 'out'), new AbortController().signal);
              for (const { states } of opened.manifest.recipes)
                for (const { recipe: file } of states) await opened.bytes(file);
              // A date or a comment of the zip is none of ours; anything else must be as it was.
              expect(opened.manifest.stacks).toEqual(all.stacks);
            } finally {
              opened.close();
            }
          } catch (fault) {
            expect(fault).toMatchObject({ code: expect.stringMatching(/archive/) });
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});
