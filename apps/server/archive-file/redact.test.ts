import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestServer, fits } from '../testing/api';
import { importArchive, packed, recipe } from '../testing/archive-fixture';
import { redactFile } from './redact';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'redact-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const personal = {
  cards: [
    { key: 'OBSERVER', value: 'A. Lamp' },
    { key: 'SITELAT', value: 47.5 },
  ],
  history: ['masters of /home/lamp/dark.fits', '40 frames kept'],
};
const SECRETS = /A\. Lamp|SITELAT|home\/lamp|Behind the barn|N47/;

/** A small picture of noise, whose file says who and where in every way that its form has. */
const photograph = () =>
  sharp(Buffer.from(Array.from({ length: 40 * 30 * 3 }, (_, i) => (i * 7919) % 251)), {
    raw: { width: 40, height: 30, channels: 3 },
  })
    .withExif({
      IFD0: { Artist: 'A. Lamp', ImageDescription: 'Behind the barn', Copyright: 'A. Lamp' },
      IFD3: { GPSLatitudeRef: 'N47', GPSLatitude: '47/1 30/1 0/1' },
    })
    .withXmp('<x:xmpmeta xmlns:x="adobe:ns:meta/"><note>A. Lamp /home/lamp/one</note></x:xmpmeta>');

async function redacted(bytes: Buffer) {
  const [path, to] = [join(folder, 'in'), join(folder, 'out')];
  await writeFile(path, bytes);
  const told = await redactFile({ path, name: 'a picture', to });
  return { told, out: told ? await readFile(to) : bytes };
}

describe('a file without who and where', () => {
  const forms = {
    PNG: (picture: Sharp) => picture.png(),
    TIFF: (picture: Sharp) => picture.tiff({ compression: 'deflate' }),
    'TIFF in tiles': (picture: Sharp) => picture.tiff({ tile: true, tileWidth: 16, tileHeight: 16 }),
    BigTIFF: (picture: Sharp) => picture.tiff({ bigtiff: true }),
  };
  it.each(Object.entries(forms))('%s keeps its pixels and says nothing of them', async (_, form) => {
    const bytes = await form(photograph()).toBuffer();
    expect(bytes.toString('latin1')).toMatch(SECRETS);
    const { told, out } = await redacted(bytes);
    expect(told).toEqual({ bytes: bytes.length, sha256: createHash('sha256').update(out).digest('hex') });
    expect(out.toString('latin1')).not.toMatch(SECRETS);
    const [a, b] = await Promise.all([bytes, out].map((file) => sharp(file).raw().toBuffer()));
    expect(a.equals(b)).toBe(true);
    const { exif, xmp } = await sharp(out).metadata();
    expect(exif?.toString('latin1') ?? '').not.toMatch(SECRETS);
    expect(xmp).toBeUndefined();
    // What has been taken out is not there to be taken out again.
    expect((await redacted(out)).told).toBeNull();
  });

  it('is left as it is where it says nothing, and is unpacked where it is gzipped', async () => {
    expect((await redacted(fits(61, 'Ha'))).told).toBeNull();
    expect((await redacted(gzipSync(fits(61, 'Ha')))).told).toBeNull();
    const whole = fits(61, 'Ha', 0, personal);
    const { out } = await redacted(gzipSync(whole));
    expect(out.length).toBe(whole.length);
    expect(out.toString('latin1')).not.toMatch(SECRETS);
    expect(out.toString('latin1')).toMatch(/40 frames kept/);
  });

  it.each([
    ['a directory that is its own next', Buffer.from('49492a000800000001003101020004000000000000000800000000', 'hex')],
    ['entries beyond its end', Buffer.from('49492a0008000000ffff3101', 'hex')],
    ['a value of four thousand megabytes', Buffer.from('49492a0008000000010031010200ffffffff1a00000000000000', 'hex')],
    ['no directory', Buffer.from('4d4d002a00000000', 'hex')],
  ])('does not trip over a TIFF with %s', async (_, bytes) => {
    const { out } = await redacted(bytes);
    expect(out.length).toBe(bytes.length);
  });
});

describe('an archive without who and where', () => {
  let here: TestServer;
  let there: TestServer;
  beforeAll(async () => {
    [here, there] = await Promise.all([TestServer.open(), TestServer.open()]);
  });
  afterAll(() => Promise.all([here.close(), there.close()]));

  it('is the same target to the bit, and is known again where it came from', async () => {
    const target = await here.newTarget('Travelling Lamp');
    await here.bringIn(target, 'a_Ha.fits', fits(71, 'Ha', 0, personal));
    await here.bringIn(target, 'a_OIII.fits', fits(72, 'OIII'));
    const recipeId = await here.newRecipe(target, recipe(0.8));
    const whole = await packed(here, target);
    expect(whole.toString('latin1')).toMatch(SECRETS);
    const archive = await packed(here, target, { impersonal: true });
    expect(archive.toString('latin1')).not.toMatch(SECRETS);

    expect(await importArchive(there, archive)).toMatchObject({ state: 'done', result: { stacks: 2, notes: [] } });
    const stacks = await there.stacks(target);
    expect(stacks.map(({ lacking }: { lacking: string | null }) => lacking)).toEqual([null, null]);
    expect(await headerOf(there, target)).not.toMatch(SECRETS);
    const sums = await Promise.all([here, there].map((server) => sumOf(server, target, recipeId)));
    expect(sums[0]).toBe(sums[1]);

    for (const server of [there, here])
      expect(await importArchive(server, archive)).toMatchObject({ state: 'done', result: { stacks: 0, notes: [] } });
  });

  it('says nothing of them without originals either', async () => {
    const target = await here.newTarget('Travelling Lamp');
    await here.bringIn(target, 'a_Ha.fits', fits(73, 'Ha', 0, personal));
    // The manifest is packed by deflate: what it says is read where it is brought in.
    expect(
      await importArchive(there, await packed(here, target, { originals: false, impersonal: true })),
    ).toMatchObject({
      state: 'done',
    });
    const header = await headerOf(there, target);
    expect(header).toMatch(/40 frames kept/);
    expect(header).not.toMatch(SECRETS);
  });
});

/** The header of a target's first stack as the page shows it. */
async function headerOf(server: TestServer, target: string): Promise<string> {
  const [{ id }] = await server.stacks(target);
  return JSON.stringify((await server.agent().get(`/api/stacks/${id}/header`).expect(200)).body);
}

/** The sum of what a recipe gives. */
async function sumOf(server: TestServer, target: string, recipeId: string): Promise<string> {
  const asked = await server
    .agent()
    .post(`/api/targets/${target}/exports`)
    .send({ recipeId, format: 'tif' })
    .expect(202);
  expect((await server.jobEnds(asked.body.job)).state).toBe('done');
  return (await server.agent().get(`/api/targets/${target}/exports`)).body[0].sum;
}
