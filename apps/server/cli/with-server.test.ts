import { existsSync } from 'node:fs';
import { copyFile, mkdtemp, open, readFile, rm, stat, unlink } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { VerifyReport } from '@owl-loom/api/jobs';
import { stackFile } from '../services/stacks';
import { pyramidDir } from '../render/pyramid';
import { SUMS_FILE, levelFile } from '../pixels/pyramid-files';
import { TestServer, fits, raw, hydrogen } from '../testing/api';
import { loomOn } from '../testing/command';

let server: TestServer;
let target: string;
let base: string;
const bytes = fits(95, 'Ha');

beforeAll(async () => {
  base = await mkdtemp(join(tmpdir(), 'owl-loom-house-'));
  server = await TestServer.open();
  target = await server.newTarget('Looked At');
  await server.bringIn(target, 'v_Ha.fits', bytes);
  await server.bringIn(target, 'v_OIII.fits', fits(96, 'OIII'));
  const recipeId = await server.newRecipe(target, hydrogen('One'));
  const asked = await server
    .agent()
    .post(`/api/targets/${target}/exports`)
    .send({ recipeId, format: 'png' })
    .expect(202);
  await server.jobEnds(asked.body.job);
});
afterAll(async () => {
  await server.close();
  await rm(base, { recursive: true, force: true });
});

const verify = async (...options: string[]): Promise<VerifyReport & { code: number; err: string }> => {
  const { out, code, err } = await loomOn(server.root, 'verify', ...options);
  return { ...(JSON.parse(out) as VerifyReport), code, err };
};

/** The same as the page asks for it: a command takes its time to begin. */
async function looked(repair = false): Promise<VerifyReport> {
  const { body } = await server.agent().post('/api/verify').send({ repair }).expect(202);
  return (await server.jobEnds(body.job)).result as unknown as VerifyReport;
}

async function scratch(path: string): Promise<void> {
  const file = await open(path, 'r+');
  await file.write(Buffer.from('scratched'), 0, 9, 3000);
  await file.close();
}

describe('./loom verify', () => {
  it('goes through everything of a running house, and ends well where all is well', async () => {
    const { looked, faults, code, err } = await verify();
    expect({ faults, code, err }).toEqual({ faults: [], code: 0, err: '' });
    expect(looked).toMatchObject({ file: 2, pixels: 2, export: 1, recipe: 1 });
    expect(looked.database).toBeGreaterThan(10);
  });

  it('takes pixels that are not made yet, as after a restored backup, for no damage, and makes them when it is asked', async () => {
    const [ha] = await server.stacks(target);
    const dir = pyramidDir(server.root, ha.pixels);
    await rm(dir, { recursive: true });
    expect((await looked()).faults).toEqual([]);
    expect(existsSync(dir)).toBe(false);
    expect((await looked(true)).faults).toEqual([]);
    expect(existsSync(join(dir, levelFile(0)))).toBe(true);
  });

  it('names what is damaged; puts right what it can, when it is asked', async () => {
    const [ha, oiii] = await server.stacks(target);
    await scratch(join(pyramidDir(server.root, ha.pixels), levelFile(0)));
    await unlink(join(pyramidDir(server.root, oiii.pixels), SUMS_FILE));
    const [row] = (await server.agent().get(`/api/targets/${target}/exports`)).body;
    await scratch(join(server.root, 'exports', `${row.id}.png`));
    const found = await verify();
    expect(found.code).toBe(1);
    expect(found.faults.map(({ what, mended }) => [what, mended])).toEqual([
      ['pixels', false],
      ['pixels', false],
      ['export', false],
    ]);
    expect(found.err).toMatch(/Ha of Looked At .*is not what was written/);
    expect(found.err).toMatch(/OIII of Looked At has no checksum/);
    const repaired = await looked(true);
    expect(repaired.faults.map(({ what, mended }) => [what, mended])).toEqual([
      ['pixels', true],
      ['pixels', true],
      ['export', false],
    ]);
    expect((await looked()).faults.map(({ what }) => what)).toEqual(['export']);
  });

  it('finds a file that is damaged, and one that is gone, though nothing has read them', async () => {
    const [ha, oiii] = await server.stacks(target);
    await copyFile(stackFile(server.root, ha.hash), join(base, 'good.fits'));
    await scratch(stackFile(server.root, ha.hash));
    await unlink(stackFile(server.root, oiii.hash));
    const { faults } = await verify('--repair');
    expect(faults.filter(({ what }) => what === 'file').map(({ says }) => says)).toEqual([
      expect.stringMatching(/Ha of Looked At is damaged. Drop v_Ha.fits/),
      expect.stringMatching(/OIII of Looked At is missing. Drop v_OIII.fits/),
    ]);
    expect((await server.stacks(target)).map((one: { lacking: string }) => one.lacking)).toEqual([
      'damaged',
      'missing',
    ]);
    for (const [name, file] of [
      ['v_Ha.fits', bytes],
      ['v_OIII.fits', fits(96, 'OIII')],
    ] as const)
      await server.agent().put(`/api/targets/${target}/uploads?name=${name}`).set(raw).send(file).expect(200);
    expect((await looked()).faults.map(({ what }) => what)).toEqual(['export']);
    expect(await readFile(stackFile(server.root, ha.hash))).toEqual(await readFile(join(base, 'good.fits')));
  });
});

describe('./loom archive and restore', () => {
  it('work on a house that runs and on one that does not', async () => {
    const out = join(base, 'looked-at.zip');
    const packed = await loomOn(server.root, 'archive', 'Looked At', '--out', out);
    expect(packed.err).toBe('');
    expect(JSON.parse(packed.out)).toEqual({ file: out, bytes: (await stat(out)).size });
    const other = join(base, 'other');
    const told = await loomOn(other, 'restore', out);
    expect(told.err).toBe('');
    expect(JSON.parse(told.out)).toMatchObject({ name: 'Looked At', stacks: 2, recipes: 1, states: 1 });
    expect(JSON.parse((await loomOn(other, 'restore', out)).out)).toMatchObject({ stacks: 0, recipes: 0, states: 0 });
    expect((await loomOn(other, 'verify')).code).toBe(0);
  });

  it('say in one sentence what they cannot do', async () => {
    const said = async (...args: string[]): Promise<string> => {
      const { code, out, err } = await loomOn(server.root, ...args);
      expect({ code, out }).toEqual({ code: 1, out: '' });
      expect(err).toMatch(/^[^\n]+[.]\n$/);
      return err;
    };
    expect(await said('archive', 'Nowhere')).toMatch(/no target called Nowhere; there are: Looked At/);
    expect(await said('archive', 'Looked At', '--out', join(base, 'no/such/folder.zip'))).toMatch(/cannot be written/);
    expect(await said('restore', join(base, 'none.zip'))).toMatch(/There is no file/);
    expect(await said('restore', join(base, 'good.fits'))).toMatch(/is not a complete zip file/);
  });
});
