import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encodeFits } from '@owl-loom/image/fits/write';
import { addNoise, scene } from '@owl-loom/testing/random';
import { fits, height, raw, TestServer, width } from '../testing/api';

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.open();
});

afterAll(() => server.close());

describe('a newer stack', () => {
  it('takes the place of an older one under the same name, and the recipes follow', async () => {
    const target = await server.newTarget('Replaced');
    const id = await server.bringIn(target, 'old_Ha.fits', fits(21, 'Ha'));
    const [before] = await server.stacks(target);
    const body = {
      format: 'owl-loom-recipe',
      version: 1,
      name: 'One',
      strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [] }],
    };
    await server.agent().post(`/api/targets/${target}/recipes`).send({ body }).expect(201);
    expect(await server.bringIn(target, 'new_Ha.fits', fits(22, 'Ha'), `&replace=${id}`)).toBe(id);
    const [after, ...others] = await server.stacks(target);
    expect(others).toEqual([]);
    expect(after).toMatchObject({ id, name: 'Ha', fileName: 'new_Ha.fits' });
    expect(after.pixels).not.toBe(before.pixels);
    const files = await readdir(join(server.root, 'stacks'));
    expect(files).toContain(`${after.hash}.fits`);
    expect(files).not.toContain(`${before.hash}.fits`);
    expect(await readdir(join(server.root, 'pixels'))).not.toContain(before.pixels);
  });

  it('is refused where it is another stack already, or there is none to replace', async () => {
    const target = await server.newTarget('Refused');
    const id = await server.bringIn(target, 'a_R.fits', fits(23, 'R'));
    await server.bringIn(target, 'a_G.fits', fits(24, 'G'));
    const send = (replace: string) =>
      server
        .agent()
        .put(`/api/targets/${target}/uploads?name=again.fits&replace=${replace}`)
        .set(raw)
        .send(fits(24, 'G'));
    expect((await send(id).expect(422)).body.error.message).toBe(
      'again.fits is already imported as G. Choose another file.',
    );
    await send('nothing').expect(404);
    expect(await readdir(join(server.root, 'incoming'))).toEqual([]);
  });
});

describe('how a file is taken', () => {
  it('is changed for a whole set: the numbers are divided anew', async () => {
    const target = await server.newTarget('Scaled');
    for (const [seed, filter] of [
      [31, 'R'],
      [32, 'G'],
    ] as const)
      await server.bringIn(target, `s_${filter}.fits`, fits(seed, filter));
    const before = await server.stacks(target);
    const { body } = await server.agent().post(`/api/targets/${target}/scale`).send({ divisor: 4 }).expect(202);
    for (const job of body.jobs) expect(await server.jobEnds(job)).toMatchObject({ state: 'done' });
    const after = await server.stacks(target);
    for (const [i, stack] of after.entries()) {
      expect(stack.divisor).toBe(4);
      expect(stack.figures.planes[0].mean).toBeCloseTo(before[i].figures.planes[0].mean / 4, 7);
    }
    // Those that are so already are left alone; null estimates again.
    expect(
      (await server.agent().post(`/api/targets/${target}/scale`).send({ divisor: 4 }).expect(202)).body.jobs,
    ).toEqual([]);
    const guessed = await server
      .agent()
      .post(`/api/targets/${target}/scale`)
      .send({ divisor: null, stacks: [after[0].id] })
      .expect(202);
    for (const job of guessed.body.jobs) await server.jobEnds(job);
    expect((await server.stacks(target)).map((stack: { divisor: number }) => stack.divisor)).toEqual([1, 4]);
    await server.agent().post(`/api/targets/${target}/scale`).send({ divisor: 0 }).expect(422);
  });

  it('counts zeros at the edge, and takes them for no data where that is wanted', async () => {
    const target = await server.newTarget('Edges');
    const plane = addNoise(scene(33, width, height), 0, 1, 0.001, 33);
    for (let y = 0; y < height; y++) plane.fill(0, y * width, y * width + 21);
    await server.bringIn(
      target,
      'e_Ha.fits',
      Buffer.concat([...encodeFits({ width, height, planes: [plane], own: [{ key: 'FILTER', value: 'Ha' }] })]),
    );
    const [before] = await server.stacks(target);
    expect(before).toMatchObject({ edgeZeros: 0.1, edgesBlank: false });
    expect(before.figures.planes[0].noData).toBe(0);
    const { body } = await server.agent().post(`/api/stacks/${before.id}/edges`).send({ blank: true }).expect(202);
    await server.jobEnds(body.job);
    const [after] = await server.stacks(target);
    expect(after).toMatchObject({ id: before.id, edgeZeros: 0.1, edgesBlank: true });
    expect(after.figures.planes[0].noData).toBeCloseTo(0.1, 9);
    expect(after.figures.planes[0].min).toBeGreaterThan(0);
  });

  it('knows wavelengths: guessed by the filter, or given', async () => {
    const target = await server.newTarget('Lines');
    const id = await server.bringIn(target, 'w_OIII.fits', fits(34, 'OIII'));
    expect((await server.stacks(target))[0].wavelength).toBe(500.7);
    expect(
      (await server.agent().patch(`/api/stacks/${id}`).send({ filter: 'NII 658.4 nm' }).expect(200)).body,
    ).toMatchObject({ filter: 'NII 658.4 nm', wavelength: 658.4 });
    expect(
      (await server.agent().patch(`/api/stacks/${id}`).send({ wavelength: 658.3 }).expect(200)).body.wavelength,
    ).toBe(658.3);
    await server.agent().patch(`/api/stacks/${id}`).send({ wavelength: -3 }).expect(422);
  });
});
