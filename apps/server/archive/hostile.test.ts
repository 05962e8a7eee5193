import { createHash } from 'node:crypto';
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { UserError } from '@owl-loom/base/errors';
import { randomFrom } from '@owl-loom/testing/random';
import { TestServer } from '../testing/api';
import { packed, travelling } from '../testing/archive-fixture';
import { zipBytes } from '../testing/zip';
import { MANIFEST, MANIFEST_SUM, type Manifest, filesOf } from '../archive-file/manifest';
import { openArchive } from '../archive-file/open';

/** Archives that are made, more of them in a long run; a fixed seed, so that what fails here fails again. */
const ROUNDS = Number(process.env.LOOM_HOSTILE ?? 40) * 8;

/** What stands in a manifest in place of what should. */
const HOSTILE: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  Number.MAX_SAFE_INTEGER,
  0.5,
  '',
  '../../../etc/passwd',
  'originals/../../x.fits',
  '/etc/passwd',
  '\u0000',
  '\ud800',
  'x'.repeat(100_000),
  '__proto__',
  [],
  {},
  [[[[[[]]]]]],
  { length: 4e9 },
  '2026-13-45T99:99:99Z',
  "'; DROP TABLE stacks; --",
];

let folder: string;
let archive: Buffer;
let whole: Manifest;
let parts: ReadonlyMap<string, Buffer>;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-hostile-'));
  const server = await TestServer.open();
  try {
    archive = await packed(server, (await travelling(server)).target);
  } finally {
    await server.close();
  }
  const path = join(folder, 'good.zip');
  await writeFile(path, archive);
  const opened = await openArchive({ path, called: 'good.zip' });
  whole = opened.manifest;
  parts = new Map(
    await Promise.all(
      filesOf(whole)
        .filter(({ entry }) => !entry.startsWith('originals/'))
        .map(async (file): Promise<[string, Buffer]> => [file.entry, await opened.bytes(file)]),
    ),
  );
  opened.close();
}, 60_000);
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Places of a value: every list, object and leaf in it. */
function places(value: unknown, path: readonly (string | number)[] = []): (readonly (string | number)[])[] {
  if (typeof value !== 'object' || value === null) return [path];
  const inner = Array.isArray(value) ? [...value.entries()] : Object.entries(value);
  return [path, ...inner.flatMap(([key, one]) => places(one, [...path, key]))];
}

/** A copy of a value with something else at a place, taken out or put in besides. */
function changed(value: unknown, path: readonly (string | number)[], to: unknown, kind: number): unknown {
  if (path.length === 0) return to;
  const copy = structuredClone(value);
  const holder = path.slice(0, -1).reduce<never>((at, key) => at[key], copy as never) as Record<
    string | number,
    unknown
  >;
  const key = path[path.length - 1];
  if (kind === 0 && !Array.isArray(holder)) delete holder[key];
  else if (kind === 1 && Array.isArray(holder)) holder.push(...Array.from({ length: 50 }, () => holder[key as number]));
  else if (kind === 2 && !Array.isArray(holder)) holder[String(to).slice(0, 20)] = to;
  else holder[key] = to;
  return copy;
}

async function zipped(manifest: unknown, withSum: boolean): Promise<Buffer> {
  const zip = new ZipFile();
  const text = Buffer.from(JSON.stringify(manifest) ?? 'undefined');
  zip.addBuffer(text, MANIFEST);
  if (withSum) zip.addBuffer(Buffer.from(createHash('sha256').update(text).digest('hex')), MANIFEST_SUM);
  for (const [entry, bytes] of parts) zip.addBuffer(bytes, entry);
  return zipBytes(zip);
}

it('manifests that say anything are refused in a sentence, or hold together; nothing is written but what was asked for', async () => {
  const random = randomFrom(20261201);
  const below = (n: number): number => Math.floor(random.next() * n);
  const bare = { ...whole, stacks: whole.stacks.map((stack) => ({ ...stack, original: null })) };
  const all = places(bare);
  const path = join(folder, 'one.zip');
  const outcomes = { opened: 0, refused: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    let said: unknown = bare;
    for (let n = 1 + below(3); n > 0; n--) {
      const place = all[below(all.length)];
      try {
        said = changed(said, place, HOSTILE[below(HOSTILE.length)], below(6));
      } catch {
        // The place is gone with an earlier change.
      }
    }
    await writeFile(path, await zipped(said, random.next() < 0.5));
    try {
      const opened = await openArchive({ path, called: 'one.zip' });
      try {
        for (const file of filesOf(opened.manifest)) await opened.bytes(file);
      } finally {
        opened.close();
      }
      outcomes.opened++;
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      expect(error.code).toMatch(/archive/);
      expect(error.message).toMatch(/^[^\n]{20,600}$/);
      outcomes.refused++;
    }
  }
  expect((await readdir(folder)).sort()).toEqual(['good.zip', 'one.zip']);
  expect(outcomes.refused).toBeGreaterThan(ROUNDS / 4);
  expect(outcomes.opened).toBeGreaterThan(0);
});

it('whose bytes are changed, cut or mixed up are refused in a sentence, or give what was put in', async () => {
  const random = randomFrom(77);
  const below = (n: number): number => Math.floor(random.next() * n);
  const path = join(folder, 'one.zip');
  for (let round = 0; round < ROUNDS / 4; round++) {
    const bytes = Buffer.from(archive);
    const kind = below(4);
    // The list of what is in a zip stands at its end.
    const at = random.next() < 0.6 ? bytes.length - 1 - below(4000) : below(bytes.length);
    if (kind === 0) bytes.fill(below(256), at, Math.min(bytes.length, at + 1 + below(64)));
    else if (kind === 1) bytes.copy(bytes, at, below(bytes.length), bytes.length);
    else for (let n = 1 + below(8); n > 0; n--) bytes[Math.max(0, at - below(300))] = below(256);
    await writeFile(path, kind === 2 ? bytes.subarray(0, at) : bytes);
    try {
      const opened = await openArchive({ path, called: 'one.zip' });
      try {
        for (const file of filesOf(opened.manifest))
          if (parts.has(file.entry)) expect(await opened.bytes(file)).toEqual(parts.get(file.entry));
      } finally {
        opened.close();
      }
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      expect(error.code).toMatch(/archive/);
    }
  }
});
