import { setTimeout as delay } from 'node:timers/promises';
import { readdir, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encodeFits } from '@owl-loom/image/fits/write';
import { addNoise, scene } from '@owl-loom/testing/random';
import { encodeTiff } from '../codecs/tiff';
import { fits, height, raw, width, TestServer } from '../testing/api';

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.open();
});

afterAll(() => server.close());

describe('uploads', () => {
  it('bring a stack in, measured and with its filter guessed, and store the same file once', async () => {
    const target = await server.newTarget('Moth');
    await server.bringIn(target, 'moth_Ha.fits', fits(1, 'H-alpha'));
    const [stack] = (await server.agent().get(`/api/targets/${target}/stacks`).expect(200)).body;
    expect(stack).toMatchObject({
      name: 'Ha',
      filter: 'Ha',
      exposure: 600,
      width,
      height,
      planes: 1,
      domain: 'linear',
      divisor: 1,
    });
    expect(stack.figures.planes[0].sky).toBeCloseTo(0.02, 2);
    const again = await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=copy.fits`)
      .set(raw)
      .send(fits(1, 'H-alpha'))
      .expect(200);
    expect(again.body).toMatchObject({ again: true, name: 'Ha' });
    const other = await server.newTarget('Moth, again');
    await server.bringIn(other, 'moth_Ha.fits', fits(1, 'H-alpha'));
    expect(await readdir(join(server.root, 'stacks'))).toHaveLength(1);
  });

  it('of one file dropped three times at once make one stack', async () => {
    const target = await server.newTarget('Thrice');
    const bytes = fits(31, 'R');
    const answers = await Promise.all(
      [1, 2, 3].map((n) => server.agent().put(`/api/targets/${target}/uploads?name=r${n}.fits`).set(raw).send(bytes)),
    );
    const jobs = answers.map(({ body }) => body.job).filter((job) => job !== undefined);
    for (const job of jobs) expect((await server.jobEnds(job)).state).toBe('done');
    const { body: stacks } = await server.agent().get(`/api/targets/${target}/stacks`);
    expect(stacks).toHaveLength(1);
    expect(await readdir(join(server.root, 'stacks'))).toContain(`${stacks[0].hash}.fits`);
  });

  it('whose names meet are counted up, by case and accents as well, however many come at once', async () => {
    const target = await server.newTarget('Names');
    const filters = ['Ünder', 'under', 'UNDER', 'ünder'];
    const answers = await Promise.all(
      filters.map((filter, i) =>
        server
          .agent()
          .put(`/api/targets/${target}/uploads?name=n${i}.fits`)
          .set(raw)
          .send(fits(60 + i, filter)),
      ),
    );
    for (const { body } of answers) expect(await server.jobEnds(body.job)).toMatchObject({ state: 'done' });
    const names = (await server.stacks(target)).map(({ name }: { name: string }) =>
      name.normalize('NFKD').toLowerCase(),
    );
    const plain = names.map((name: string) => name.replaceAll(/\p{M}/gu, ''));
    expect(plain.sort()).toEqual(['under', 'under-2', 'under-3', 'under-4']);
  });

  it('with a filter of a very long name keep its beginning, and say so', async () => {
    const target = await server.newTarget('Long');
    const filter = `night${' and night'.repeat(20)}`;
    const { body } = await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=plain.fits`)
      .set(raw)
      .send(fits(70, filter));
    const end = await server.jobEnds(body.job);
    expect(end.result?.notice).toMatch(/very long name; it is kept as night and night/);
    const [stack] = await server.stacks(target);
    expect(stack.filter.length).toBeLessThanOrEqual(64);
    expect(filter.startsWith(stack.filter)).toBe(true);
    expect(stack.name.length).toBeLessThanOrEqual(48);
  });

  it('keep what they measured: a recipe of bare stacks has its figures at once', async () => {
    const target = await server.newTarget('Known');
    await server.bringIn(target, 'moth_Ha.fits', fits(41, 'Ha'));
    await server.bringIn(target, 'moth_OIII.fits', fits(42, 'OIII'));
    const recipe = {
      format: 'owl-loom-recipe',
      version: 1,
      strands: [
        { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'scale', multiply: 2 }, { do: 'stretch' }] },
        { id: 'OIII', from: { stack: 'OIII' } },
      ],
    };
    const also = [
      { figure: 'tone', path: 'strands[1]' },
      { figure: 'counts', path: 'strands[1]' },
      { figure: 'marks', path: 'strands[1]' },
    ];
    const ask = () =>
      server
        .agent()
        .post(`/api/targets/${target}/measure`)
        .send({ recipe, paths: ['strands[0]'], also })
        .expect(200);
    const first = (await ask()).body;
    const kinds = (body: { figures: Record<string, { kind: string }> }) =>
      Object.values(body.figures)
        .map((figure) => figure.kind)
        .sort();
    // The doubled strand's tone follows from that of its stack; the marks are what is left to a job, which needs no pixel for them.
    expect(kinds(first)).toEqual(['counts', 'tone', 'tone']);
    await server.jobEnds(first.job);
    const second = (await ask()).body;
    expect(second.job).toBeNull();
    expect(kinds(second)).toEqual(['counts', 'marks', 'tone', 'tone']);
  });

  it('that go on while the same file is taken away elsewhere keep their pixels', async () => {
    const [one, other] = [await server.newTarget('One'), await server.newTarget('Other')];
    const bytes = fits(51, 'G');
    const stack = await server.bringIn(one, 'g.fits', bytes);
    const { body } = await server
      .agent()
      .put(`/api/targets/${other}/uploads?name=g.fits`)
      .set(raw)
      .send(bytes)
      .expect(202);
    await server.removeAndEmptyTrash('stack', stack);
    expect((await server.jobEnds(body.job)).state).toBe('done');
    const [left] = (await server.agent().get(`/api/targets/${other}/stacks`)).body;
    expect(await readdir(join(server.root, 'stacks'))).toContain(`${left.hash}.fits`);
    await server.agent().get(`/api/pixels/${left.pixels}/${width}/${height}/0/0/0/0`).expect(200);
  });

  it('serve pixels raw, for ever, by their address', async () => {
    const target = await server.newTarget('Tiles');
    await server.bringIn(target, 'x_B.fits', fits(2, 'B'));
    const [stack] = (await server.agent().get(`/api/targets/${target}/stacks`)).body;
    const { body, headers } = await server
      .agent()
      .get(`/api/pixels/${stack.pixels}/${width}/${height}/0/0/0/0`)
      .buffer(true)
      .parse((res, done) => {
        const parts: Buffer[] = [];
        res.on('data', (part: Buffer) => parts.push(part));
        res.on('end', () => done(null, Buffer.concat(parts)));
      })
      .expect(200);
    expect(headers['cache-control']).toMatch(/immutable/);
    const tile = new Float32Array(new Uint8Array(body as Buffer).buffer);
    const [plane] = [addNoise(scene(2, width, height), 0, 1, 0.001, 2)];
    expect(tile[0]).toBe(plane[0]);
    expect(tile[512 * 3 + 5]).toBe(plane[width * 3 + 5]);
    expect(tile[width]).toBeNaN();
    await server.agent().get(`/api/pixels/${stack.pixels}/${width}/${height}/0/0/9/9`).expect(404);
    await server.agent().get(`/api/pixels/..%2F..%2Fetc/1/1/0/0/0/0`).expect(422);
  });

  it.each([
    ['a text file', Buffer.from('no stars'), 'not-fits'],
    ['a stack cut short', fits(3, 'R').subarray(0, 40_000), 'fits-cut-short'],
  ])('of %s are refused in one sentence, with nothing stored', async (_, bytes, code) => {
    const target = await server.newTarget('Bad');
    const before = await readdir(join(server.root, 'stacks'));
    const { body } = await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=bad.fits`)
      .set(raw)
      .send(bytes)
      .expect(422);
    expect(body.error.code).toBe(code);
    expect(body.error.message).toMatch(/bad.fits/);
    expect(await readdir(join(server.root, 'stacks'))).toEqual(before);
    expect(await readdir(join(server.root, 'incoming'))).toEqual([]);
  });

  it('of a stack without any data fail in the job, and leave nothing', async () => {
    const target = await server.newTarget('Blank');
    const before = await readdir(join(server.root, 'stacks'));
    const blank = Buffer.concat([
      ...encodeFits({ width: 9, height: 9, planes: [new Float32Array(81).fill(Number.NaN)] }),
    ]);
    const { body } = await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=blank.fits`)
      .set(raw)
      .send(blank)
      .expect(202);
    expect(await server.jobEnds(body.job)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/blank.fits has no data/),
    });
    expect(await readdir(join(server.root, 'stacks'))).toEqual(before);
    expect((await server.agent().get(`/api/targets/${target}/stacks`)).body).toEqual([]);
  });

  it('that are too large are refused, whether they say so or not', async () => {
    const target = await server.newTarget('Large');
    await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=large.fits`)
      .set(raw)
      .send(Buffer.alloc(2_100_000))
      .expect(413);
    expect(await readdir(join(server.root, 'incoming'))).toEqual([]);
  });

  it('take a TIFF as they take a FITS, and tell what it is', async () => {
    const target = await server.newTarget('Pictures');
    const tiff = Buffer.concat(
      encodeTiff(
        {
          width: 40,
          height: 30,
          planes: [0, 1, 2].map((p) => Float32Array.from({ length: 1200 }, (_, i) => (p + 1) * 0.01 + (i % 40) / 4000)),
          stretched: false,
        },
        16,
      ),
    );
    await server.bringIn(target, 'pair_Ha.tif', tiff);
    const [row] = (await server.agent().get(`/api/targets/${target}/stacks`)).body;
    // Three planes are never one narrow filter, whatever the file is called.
    expect(row).toMatchObject({
      name: 'colour',
      width: 40,
      height: 30,
      planes: 3,
      type: 'uint16',
      divisor: 65535,
      domain: 'linear',
    });
  });

  it('that break off leave nothing', async () => {
    const target = await server.newTarget('Broken');
    const url = new URL(server.running.address);
    await new Promise<void>((resolve) => {
      const sending = httpRequest({
        host: url.hostname,
        port: url.port,
        path: `/api/targets/${target}/uploads?name=half.fits`,
        method: 'PUT',
        headers: { 'Content-Length': 1_000_000 },
      });
      sending.on('error', () => resolve());
      sending.write(Buffer.alloc(200_000));
      setTimeout(() => sending.destroy(), 200);
    });
    await delay(300);
    expect(await readdir(join(server.root, 'incoming'))).toEqual([]);
    await server.agent().get('/api/health').expect(200);
  });

  it('with a name that is a path keep only its end', async () => {
    const target = await server.newTarget('Path');
    await server.bringIn(target, encodeURIComponent('../../etc/moth_G.fits'), fits(4, 'G'));
    expect((await server.agent().get(`/api/targets/${target}/stacks`)).body[0].fileName).toBe('moth_G.fits');
  });
});

describe('the inbox', () => {
  it('lists what lies in its folder and takes it in; what is no stack is told and the rest goes on', async () => {
    const target = await server.newTarget('Inbox');
    const inbox = join(server.root, 'inbox');
    await writeFile(join(inbox, 'in_SII.fits'), fits(41, 'SII'));
    await writeFile(join(inbox, 'notes.txt'), 'no stars');
    expect(
      (await server.agent().get('/api/inbox').expect(200)).body.files.map((file: { name: string }) => file.name),
    ).toEqual(['in_SII.fits', 'notes.txt']);
    const { body } = await server
      .agent()
      .post(`/api/targets/${target}/inbox`)
      .send({ files: ['in_SII.fits', 'notes.txt', '../api.fits'] })
      .expect(202);
    await server.jobEnds(body[0].job);
    expect(body[1].trouble).toMatch(/notes.txt/);
    expect(body[2].trouble).toMatch(/no longer in the inbox/);
    expect((await server.stacks(target)).map((stack: { name: string }) => stack.name)).toEqual(['SII']);
    expect(await readdir(inbox)).toHaveLength(2);
  });
});
