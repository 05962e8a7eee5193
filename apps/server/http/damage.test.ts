import { setTimeout as delay } from 'node:timers/promises';
import { existsSync } from 'node:fs';
import { open, rm, truncate, unlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { notes } from '../storage/maintenance-log';
import { stackFile } from '../services/stacks';
import { pyramidDir } from '../render/pyramid';
import { levelFile, SUMS_FILE } from '../pixels/pyramid-files';
import { checkPyramid } from '../pixels/tile-checksums';
import { TestServer, fits, height, raw, width } from '../testing/api';

let server: TestServer;
let target: string;
let pixels: string;
let dir: string;
let file: string;
const bytes = fits(71, 'Ha');

const recipe = (multiply: number) => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Mended',
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'denoise' }, { do: 'scale', multiply }] }],
  cloth: { layers: [{ id: 'base', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
});

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Cracked');
  await server.bringIn(target, 'm_Ha.fits', bytes);
  const [row] = await server.stacks(target);
  pixels = row.pixels;
  dir = pyramidDir(server.root, pixels);
  file = stackFile(server.root, row.hash);
});
afterAll(() => server.close());
// Pixels are looked at once in a run.
beforeEach(() => server.running.services.integrityChecks.clear());

const tile = (level = 0) => server.agent().get(`/api/pixels/${pixels}/${width}/${height}/${level}/0/0/0`);
const lacking = async (): Promise<string | null> => (await server.stacks(target))[0].lacking;

async function scratch(path: string, place = 1000): Promise<void> {
  const handle = await open(path, 'r+');
  await handle.write(Buffer.from('scratched'), 0, 9, place);
  await handle.close();
}

/** Asks for a tile until it is given. */
async function tileAtLast(): Promise<Buffer> {
  for (let i = 0; i < 200; i++) {
    const { status, body } = await tile().buffer(true);
    if (status === 200) return body;
    expect(status).toBe(503);
    expect(body.error).toMatchObject({ code: 'pixels-mending', message: expect.stringMatching(/being rebuilt/) });
    await delay(50);
  }
  throw new Error('the tile never came');
}

/** Writes a file of a recipe at full size; how that ended. */
async function written(multiply: number) {
  const recipeId = await server.newRecipe(target, recipe(multiply));
  const asked = await server
    .agent()
    .post(`/api/targets/${target}/exports`)
    .send({ recipeId, format: 'fits' })
    .expect(202);
  const end = await server.jobEnds(asked.body.job);
  const [row] = (await server.agent().get(`/api/targets/${target}/exports`)).body;
  return { ...end, sum: row?.sum as string };
}

describe('pixels that are damaged', () => {
  let good: Buffer;
  let sum: string;

  it('never leave the server: what is read is made anew from the file first', async () => {
    good = (await tile().buffer(true).expect(200)).body;
    sum = (await written(1)).sum;
    await scratch(join(dir, levelFile(0)));
    await tile().expect(503);
    expect((await tileAtLast()).equals(good)).toBe(true);
    expect(checkPyramid(dir)).toBe('whole');
    const [note] = await notes(server.running.services);
    expect(note).toMatchObject({
      kind: 'mended',
      says: expect.stringMatching(/Pixel data of Ha rebuilt from m_Ha.fits/),
    });
  });

  it.each([
    ['a byte', () => scratch(join(dir, levelFile(0)), 90_000)],
    ['a cut-off level', () => truncate(join(dir, levelFile(0)), 5000)],
    ['a level that is gone', () => unlink(join(dir, levelFile(0)))],
    ['torn sums', () => writeFile(join(dir, SUMS_FILE), '[[1,2')],
    ['a folder that is gone', () => rm(dir, { recursive: true })],
  ])('are made anew before a file is written of them, the same to the bit: %s', async (_, damage) => {
    server.running.services.pool.images.shrink(0);
    await damage();
    expect(await written(1)).toMatchObject({ state: 'done', sum });
    expect(checkPyramid(dir)).toBe('whole');
    expect((await tile().buffer(true).expect(200)).body.equals(good)).toBe(true);
  });

  it('that are taken away after they have been seen to be whole are missed as well', async () => {
    expect(await written(1)).toMatchObject({ state: 'done', sum });
    server.running.services.pool.images.shrink(0);
    await rm(dir, { recursive: true });
    expect(await written(1)).toMatchObject({ state: 'done', sum });
    expect(checkPyramid(dir)).toBe('whole');
  });

  it('written before sums were kept serve as they are', async () => {
    await unlink(join(dir, SUMS_FILE));
    await server.restart();
    expect((await tile().buffer(true).expect(200)).body.equals(good)).toBe(true);
    expect(await written(1)).toMatchObject({ state: 'done', sum });
    await rm(dir, { recursive: true });
    await tileAtLast();
    expect(existsSync(join(dir, SUMS_FILE))).toBe(true);
  });

  it('of a step that is kept are taken away, and made anew when they are wanted', async () => {
    const proof = async (): Promise<{ kept: string[]; pixels: string; job: string | null }> =>
      (
        await server
          .agent()
          .post(`/api/targets/${target}/proof`)
          .send({ recipe: recipe(2), path: 'cloth' })
          .expect(200)
      ).body;
    const first = await proof();
    await server.jobEnds(first.job ?? '');
    expect(await proof()).toEqual({ ...first, job: null });
    const clean = (await written(5)).sum;
    server.running.services.pool.images.shrink(0);
    server.running.services.integrityChecks.clear();
    const [kept] = first.kept;
    await scratch(join(pyramidDir(server.root, kept), levelFile(0)));
    expect((await written(5)).sum).toBe(clean);
    await scratch(join(pyramidDir(server.root, first.pixels), levelFile(0)));
    const { body } = await server.agent().get(`/api/pixels/${first.pixels}/${width}/${height}/0/0/0/0`).expect(404);
    expect(body.error.code).toBe('no-pixels');
    const again = await proof();
    expect(again).toMatchObject({ kept: first.kept, pixels: first.pixels, job: expect.any(String) });
    expect((await server.jobEnds(again.job ?? '')).state).toBe('done');
  });
});

describe('a file that is damaged', () => {
  it('is named, and mended by dropping it again', async () => {
    await scratch(file, 4000);
    await scratch(join(dir, levelFile(0)));
    const { state, message } = await written(7);
    expect(state).toBe('failed');
    expect(message).toMatch(/file of Ha is damaged. Drop m_Ha.fits on its target again/);
    expect(await lacking()).toBe('damaged');
    const { body } = await tile().expect(422);
    expect(body.error.message).toMatch(/Drop m_Ha.fits/);
    // Another file mends nothing; what it is to be is told by its content.
    await server.bringIn(target, 'm_Ha.fits', fits(72, 'Ha'));
    expect(await lacking()).toBe('damaged');
    const answer = await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=found-again.fits`)
      .set(raw)
      .send(bytes)
      .expect(200);
    expect(answer.body).toMatchObject({ again: true, name: 'Ha', mended: true });
    await tileAtLast();
    expect(await lacking()).toBeNull();
    expect((await written(7)).state).toBe('done');
    expect(checkPyramid(dir)).toBe('whole');
  });

  it('that is gone is asked for in the same way, and another target that has it mends it too', async () => {
    await unlink(file);
    await rm(dir, { recursive: true });
    expect((await written(8)).message).toMatch(/file of Ha is missing. Drop m_Ha.fits/);
    expect(await lacking()).toBe('missing');
    // The palettes come all the same: nothing is judged of what cannot be read.
    const sheet = await server.agent().get(`/api/targets/${target}/palettes`).expect(200);
    expect(sheet.body.ground).toMatchObject({ uneven: [], askew: [] });
    const other = await server.newTarget('Other');
    await server.bringIn(other, 'copy.fits', bytes);
    expect(await lacking()).toBeNull();
    expect((await written(8)).state).toBe('done');
  });
});
