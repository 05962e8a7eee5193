import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { freeBytes } from './system/disk-space';
import { fits, raw, TestServer } from './testing/api';
import { smallDisk } from './testing/small-disk';

const disk = '/tmp/owl-loom-full';
const MB = 2 ** 20;
await mkdir(disk, { recursive: true });
/** Only who may mount a disk can try a small one. */
const takeAway = smallDisk(disk, 'size=720m');
let server: TestServer | undefined;

afterAll(async () => {
  await server?.close();
  takeAway?.();
  await rm(disk, { recursive: true, force: true });
});

/** Leaves so many bytes free. */
async function leave(bytes: number): Promise<void> {
  await rm(join(disk, 'filling'), { force: true });
  for (let n = (await freeBytes(disk)) - bytes; n > 0; n -= 8 * MB)
    await writeFile(join(disk, 'filling'), Buffer.alloc(Math.min(n, 8 * MB), 1), { flag: 'a' });
}

const recipe = (name: string): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
  strands: [{ id: 'Ha', from: { stack: 'Ha' } }],
  cloth: { layers: [{ id: 'all', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }] },
});

describe.skipIf(!takeAway)('a disk that is nearly full', () => {
  it('refuses what it has no room for before the work begins, and says what is needed and what is there', async () => {
    server = await TestServer.open(900 * MB, join(disk, 'data'));
    const target = await server.newTarget('Small disk');
    await server.bringIn(target, 'a_Ha.fits', fits(3, 'Ha'));
    await leave(150 * MB);
    const upload = await server
      .agent()
      .put(`/api/targets/${target}/uploads?name=large.fits`)
      .set({ ...raw, 'Content-Length': String(60 * MB) })
      .send(Buffer.alloc(60 * MB))
      .expect(507);
    expect(upload.body.error).toMatchObject({
      code: 'disk-full',
      message: expect.stringMatching(/^large\.fits needs about 63 MB, and 2\d MB can be used on the disk/),
    });
    const made = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('One') })
      .expect(201);
    const { body: asked } = await server
      .agent()
      .post(`/api/targets/${target}/exports`)
      .send({ recipeId: made.body.id, format: 'tif', width: 9000 })
      .expect(202);
    expect(await server.jobEnds(asked.job)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/^Writing this file needs about \d/),
    });
    // What has room goes on.
    await server.bringIn(target, 'b_OIII.fits', fits(4, 'OIII'));
  });

  it('that is full to the last byte stops nothing: every request is answered, and what was kept is there afterwards', async () => {
    if (!server) throw new Error('no server');
    const target = await server.newTarget('Full disk');
    const { body: made } = await server
      .agent()
      .post(`/api/targets/${target}/recipes`)
      .send({ body: recipe('One') });
    await leave(0);
    let parent = 1;
    const kept: string[] = [];
    for (let i = 0; i < 60; i++) {
      const name = `State ${i} ${'x'.repeat(20_000)}`.slice(0, 190);
      const answer = await server
        .agent()
        .put(`/api/recipes/${made.id}`)
        .send({ parent, body: recipe(name) });
      expect([200, 507, 503]).toContain(answer.status);
      if (answer.status !== 200) continue;
      parent = answer.body.revision;
      kept.push(name);
      server.running.services.log.info({ fill: 'y'.repeat(5000) }, 'a line for a full disk');
    }
    await server.agent().put(`/api/targets/${target}/uploads?name=c.fits`).set(raw).send(fits(5, 'SII')).expect(507);
    await server.agent().get('/api/targets').expect(200);
    await leave(200 * MB);
    const { body: now } = await server.agent().get(`/api/recipes/${made.id}`).expect(200);
    expect(now.revision).toBe(parent);
    if (kept.length > 0) expect(now.body.name).toBe(kept.at(-1));
    // What was refused is taken now; it has ended before the disk is taken away.
    await server.bringIn(target, 'c.fits', fits(5, 'SII'));
  });
});
