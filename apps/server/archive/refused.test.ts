import { createHash } from 'node:crypto';
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { TestServer } from '../testing/api';
import { importArchive, files, packed, travelling } from '../testing/archive-fixture';
import { zipBytes } from '../testing/zip';
import { MANIFEST, MANIFEST_SUM, type Manifest } from '../archive-file/manifest';
import { openArchive } from '../archive-file/open';

let archive: Buffer;
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-archive-'));
  const here = await TestServer.open();
  try {
    archive = await packed(here, (await travelling(here)).target);
  } finally {
    await here.close();
  }
}, 60_000);
afterAll(() => rm(folder, { recursive: true, force: true }));

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
    return zipBytes(made);
  };
  const manifest = async (): Promise<Manifest> => {
    const path = join(folder, 'good.zip');
    await writeFile(path, archive);
    const opened = await openArchive({ path, called: 'good.zip' });
    opened.close();
    return opened.manifest;
  };
  const refused = async (bytes: Buffer, says: RegExp): Promise<void> => {
    const { state, message } = await importArchive(clean, bytes);
    expect(state).toBe('failed');
    expect(message).toMatch(says);
    expect(message).toMatch(/^[^\n]{20,320}\.$/);
    // Nothing is kept of it, in no place.
    expect((await clean.agent().get('/api/targets')).body).toEqual([]);
    for (const name of ['stacks', 'swatches', 'incoming', 'restoring', 'pixels'])
      expect(await readdir(join(clean.root, name))).toEqual([]);
  };

  it('is refused in one sentence, and nothing of it is brought in', async () => {
    await refused(Buffer.from('no zip at all'), /is not a complete zip file/);
    await refused(archive.subarray(0, archive.length - 500), /is not a complete zip file/);
    await refused(await zip({ 'readme.txt': 'a letter' }), /is not an Owl Loom archive/);
    await refused(await zip({ [MANIFEST]: { format: 'other' } }), /is not an Owl Loom archive/);
    await refused(await zip({ [MANIFEST]: { ...(await manifest()), version: 3 } }), /made by a newer Owl Loom/);
    await refused(await zip({ [MANIFEST]: await manifest() }), /is damaged .*is missing/);
  });

  it('cannot lead out of its folder, by names of entries or by what the manifest says', async () => {
    const climbing = await zip({ [MANIFEST]: await manifest(), 'aa/aa/etc/evil': 'x' });
    const text = climbing.toString('latin1').replaceAll('aa/aa/etc/evil', '../../etc/evil');
    await refused(Buffer.from(text, 'latin1'), /has unsafe file names/);
    const own = await manifest();
    const [first] = own.recipes;
    const bad = { ...first.states[0], recipe: { ...first.states[0].recipe, entry: '../../recipes/x.json' } };
    const said = { ...own, recipes: [{ ...first, states: [bad] }] };
    await refused(await zip({ [MANIFEST]: said }), /has an invalid manifest/);
  });

  it('with a wrong hash, or an original of another stack, is refused', async () => {
    const own = await manifest();
    const [stack] = own.stacks;
    const entry = `originals/${stack.hash}.fits`;
    const only = { ...own, recipes: [], swatches: [], palettes: [], patterns: [] };
    const one = { ...only, stacks: [stack] };
    await refused(await zip({ [MANIFEST]: one, [entry]: Buffer.alloc(files.Ha.length, 1) }), /is damaged/);
    await refused(await zip({ [MANIFEST]: one, [entry]: Buffer.alloc(10) }), /the size of .* is wrong/);
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
            const opened = await openArchive({ path, called: 'bitten.zip' });
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
          } catch (error) {
            expect(error).toMatchObject({ code: expect.stringMatching(/archive/) });
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('whose manifest has one bit changed, although it still reads', async () => {
    const text = Buffer.from(JSON.stringify(await manifest(), null, 2));
    const at = text.indexOf('"width": ') + '"width": '.length;
    const changed = Buffer.from(text);
    changed[at] ^= 1;
    expect(JSON.parse(changed.toString()).stacks[0].width).not.toBe(JSON.parse(text.toString()).stacks[0].width);
    // In a zip made anew its own sum agrees; that of the manifest does not.
    const sum = Buffer.from(createHash('sha256').update(text).digest('hex'));
    await refused(await zip({ [MANIFEST]: changed, [MANIFEST_SUM]: sum }), /is damaged .manifest.json/);
    // In the zip as it was made the zip's own sum does not, and archives of earlier versions have no other.
    const stored = new ZipFile();
    stored.addBuffer(text, MANIFEST, { compress: false });
    stored.end();
    const pieces: Buffer[] = [];
    for await (const piece of stored.outputStream) pieces.push(piece as Buffer);
    const bytes = Buffer.concat(pieces);
    bytes[bytes.indexOf('"width": ') + '"width": '.length] ^= 1;
    await refused(bytes, /is damaged .manifest.json/);
  });
});
