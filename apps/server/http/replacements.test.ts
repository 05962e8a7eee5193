import { setTimeout as delay } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { encodeFits } from '@owl-loom/image/fits/write';
import { addNoise, scene } from '@owl-loom/testing/random';
import { height, TestServer, width } from '../testing/api';

let server: TestServer;
let target: string;
let stack: string;

/** One field through a filter, with so much noise, exposed for so long. */
const file = (filter: string, noise: number, exposure: number): Buffer =>
  Buffer.concat([
    ...encodeFits({
      width,
      height,
      planes: [addNoise(scene(5, width, height), 0.01, 1, noise, exposure)],
      own: [
        { key: 'FILTER', value: filter },
        { key: 'EXPTIME', value: exposure },
      ],
    }),
  ]);

const recipe = (name: string, stack: string): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
  strands: [{ id: 'S', from: { stack } }],
  cloth: { layers: [{ of: { strand: 'S' }, steps: [{ do: 'stretch' }] }] },
});

beforeAll(async () => {
  server = await TestServer.open();
  target = await server.newTarget('Renewed');
  stack = await server.bringIn(target, 'old_Ha.fits', file('Ha', 0.002, 600));
  await server.bringIn(target, 'R.fits', file('R', 0.001, 60));
  for (const body of [recipe('Of hydrogen', 'Ha'), recipe('Of red', 'R'), recipe('At fault', 'Ha')])
    await server.agent().post(`/api/targets/${target}/recipes`).send({ body }).expect(201);
});
afterAll(() => server.close());

interface Row {
  id: string;
  stackName: string;
  before: { noise: number; exposure: number };
  after: { noise: number; exposure: number };
  kept: { recipeId: string; swatchId: string }[];
}
const renewals = async (): Promise<Row[]> => (await server.agent().get(`/api/targets/${target}/renewals`)).body;

it('a newer file leaves word of what has changed, and each recipe that reads it as it was', async () => {
  expect(await renewals()).toEqual([]);
  await server.bringIn(target, 'new_Ha.fits', file('Ha', 0.001, 1200), `&replace=${stack}`);
  const [row, ...others] = await renewals();
  expect(others).toEqual([]);
  expect(row).toMatchObject({ stackName: 'Ha', before: { exposure: 600 }, after: { exposure: 1200 } });
  expect(row.after.noise / row.before.noise).toBeCloseTo(0.5, 1);
  const swatches: { id: string; name: string; note: string; picture: string | null }[] = (
    await server.agent().get(`/api/targets/${target}/swatches`)
  ).body;
  expect(row.kept.map(({ swatchId }) => swatches.find(({ id }) => id === swatchId)?.name).sort()).toEqual([
    'At fault',
    'Of hydrogen',
  ]);
  for (const { note, picture } of swatches) {
    expect(note).toBe('before the newer Ha');
    await server.agent().get(`/api/swatch-pictures/${picture}`).expect(200);
  }
});

it('the word is of the newest file alone, and goes when it has been seen', async () => {
  await server.bringIn(target, 'newer_Ha.fits', file('Ha', 0.0007, 2400), `&replace=${stack}`);
  const [row, ...others] = await renewals();
  expect(others).toEqual([]);
  expect(row.before.exposure).toBe(1200);
  await server.agent().delete(`/api/renewals/${row.id}`).expect(204);
  expect(await renewals()).toEqual([]);
});

it('the same file taken another way is no newer one', async () => {
  await server.agent().post(`/api/stacks/${stack}/edges`).send({ blank: true }).expect(202);
  for (let i = 0; i < 100; i++) {
    const jobs: { state: string }[] = (await server.agent().get('/api/jobs')).body;
    if (jobs.every(({ state }) => state === 'done')) break;
    await delay(50);
  }
  expect(await renewals()).toEqual([]);
});
