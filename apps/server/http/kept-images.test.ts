import { existsSync } from 'node:fs';
import { open, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { openFits } from '@owl-loom/image/fits/image';
import { TILE } from '@owl-loom/image/pyramid/pyramid';
import type { Recipe } from '@owl-loom/recipe/schema';
import { evictCachedImages } from '../storage/disk-image-cache';
import { pyramidDir } from '../render/pyramid';
import { fits, height, TestServer, width } from '../testing/api';

let server: TestServer;
let target: string;

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Quiet');
  await server.bringIn(target, 'a_Ha.fits', fits(11, 'Ha'));
});
afterAll(() => server.close());

const recipe = (multiply: number): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Quiet',
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'denoise' }, { do: 'scale', multiply }] }],
  cloth: { layers: [{ of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
});
const proof = async (body: Recipe): Promise<{ pixels: string; kept: string[]; job: string | null }> =>
  (await server.agent().post(`/api/targets/${target}/proof`).send({ recipe: body, path: 'cloth' }).expect(200)).body;

/** The strand as a file that the server writes. */
async function written(multiply: number): Promise<Float64Array> {
  const recipeId = await server.newRecipe(target, recipe(multiply));
  const asked = await server
    .agent()
    .post(`/api/targets/${target}/exports`)
    .send({ recipeId, format: 'fits', node: 'Ha' });
  const { state, result } = await server.jobEnds(asked.body.job);
  expect(state).toBe('done');
  const bytes = await readFile(join(server.root, 'exports', `${result?.exportId}.fits`));
  return (await openFits(memorySource('x', new Uint8Array(bytes)))).readRows(0, 0, height);
}

/** Nothing that was made before is in memory any more. */
const forget = (): void => server.running.services.pool.images.shrink(0);

describe('a target that is opened', () => {
  it('has memory made ready for as many images as a recipe of its stacks may need', async () => {
    forget();
    const { images } = server.running.services.pool;
    images.spare.clear();
    await server.agent().get(`/api/targets/${target}`).expect(200);
    await expect.poll(() => images.spare.fitting({ x: 0, y: 0, width, height })).toBe(2);
  });
});

describe('images of steps that are kept', () => {
  let name: string;

  it('are written beside the proof, and are there for the next one', async () => {
    const first = await proof(recipe(2));
    expect(first.kept).toHaveLength(1);
    [name] = first.kept;
    expect((await server.jobEnds(first.job ?? '')).state).toBe('done');
    await server.agent().get(`/api/pixels/${name}/${width}/${height}/0/0/0/0`).expect(200);
    expect(await proof(recipe(2))).toEqual({ ...first, job: null });
    // Another number after the step: another proof, and the same kept image.
    const second = await proof(recipe(3));
    expect(second.kept).toEqual([name]);
    expect(second.pixels).not.toBe(first.pixels);
    expect((await server.jobEnds(second.job ?? '')).state).toBe('done');
  });

  it('are read from disk by whatever comes after them', async () => {
    forget();
    const before = await written(2);
    // Other pixels on disk tell whether they are what is read.
    const file = await open(join(pyramidDir(server.root, name), 'level-0.f32'), 'r+');
    await file.write(new Uint8Array(new Float32Array(TILE * TILE).fill(0.25).buffer), 0);
    await file.close();
    forget();
    const after = await written(4);
    expect(before[5 * width + 7]).not.toBeCloseTo(0.5, 3);
    expect(after.every((v) => v === 1)).toBe(true);
  });

  it('go when disk is short, and are made again when they are asked for', async () => {
    await evictCachedImages(server.root, 0);
    forget();
    expect(existsSync(pyramidDir(server.root, name))).toBe(false);
    const again = await proof(recipe(2));
    expect(again.job).not.toBeNull();
    expect((await server.jobEnds(again.job ?? '')).state).toBe('done');
    expect(existsSync(pyramidDir(server.root, name))).toBe(true);
    const [two, four] = [await written(2), await written(4)];
    two.forEach((v, i) => expect(four[i]).toBeCloseTo(2 * v, 6));
  });

  it('are believed after the system went down only where they had reached the disk', async () => {
    const mark = join(pyramidDir(server.root, name), 'proof');
    const told = async () => JSON.parse(await readFile(mark, 'utf8')) as { boot?: string };
    expect((await told()).boot).toBeDefined();
    await evictCachedImages(server.root);
    expect((await told()).boot).toBeUndefined();
    expect((await proof(recipe(2))).job).toBeNull();
    for (const spoilt of [JSON.stringify({ counted: [], boot: 'an earlier one' }), '{"counted":[']) {
      await writeFile(mark, spoilt);
      forget();
      const again = await proof(recipe(2));
      expect((await server.jobEnds(again.job ?? '')).state).toBe('done');
      expect((await proof(recipe(2))).job).toBeNull();
    }
  });
});
