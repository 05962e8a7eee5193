import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readEmbeddedRecipe } from '@owl-loom/recipe/embedded-recipe';
import { UserError } from '@owl-loom/base/errors';
import { compileFormula } from '@owl-loom/algorithms/formula/compile';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { randomFrom } from '@owl-loom/testing/random';
import { openFile } from './open-file';
import { peek } from '../pixels/inspect-file';
import { openImage, type StackImage } from './image-file';
import { encodePng } from './png';
import { encodeTiff } from './tiff';

/** Rounds of each kind, more of them in a long run; a fixed seed, so that what fails here fails again. */
const ROUNDS = Number(process.env.LOOM_HOSTILE ?? 40);
const fixtures = fileURLToPath(new URL('../../../packages/testing/fixtures', import.meta.url));
let dir: string;
let seeds: [string, Buffer][];

beforeAll(async () => {
  dir = await mkdtemp(join(tmpdir(), 'owl-loom-fuzz-'));
  // Sorted: the order of a folder hangs on the disk, and with it which file is spoilt how.
  const names = (await readdir(fixtures)).filter((name) => /\.(fits|gz)$/.test(name)).sort();
  const files = await Promise.all(
    names.map(async (name): Promise<[string, Buffer]> => [name, await readFile(join(fixtures, name))]),
  );
  const picture = {
    width: 40,
    height: 30,
    planes: [0, 1, 2].map((p) => Float32Array.from({ length: 1200 }, (_, i) => ((i * (p + 3)) % 97) / 97)),
    stretched: true,
  };
  const words = { recipe: JSON.stringify({ format: 'owl-loom-recipe', version: 1, strands: [] }) };
  seeds = [
    ...files,
    ['16.tif', Buffer.concat([...encodeTiff(picture, 16, words)])],
    ['32.tif', Buffer.concat([...encodeTiff(picture, 32, words)])],
    ['16.png', await encodePng(picture, 16, words)],
    ['8.png', await encodePng(picture, 8, words)],
  ];
});
afterAll(() => rm(dir, { recursive: true, force: true }));

/** A file with something wrong with it: bytes changed, cut off, doubled, taken out, or numbers in it made huge. */
function spoilt(bytes: Buffer, random: { next(): number }): Buffer {
  const below = (n: number): number => Math.floor(random.next() * n);
  const out = Buffer.from(bytes);
  const kind = below(6);
  // What decides stands at the front, so that is where most of it goes.
  const place = (): number => below(random.next() < 0.7 ? Math.min(out.length, 3000) : out.length);
  if (kind === 0) return out.subarray(0, below(out.length));
  if (kind === 1) return Buffer.concat([out.subarray(0, place()), out.subarray(place())]);
  if (kind === 2) {
    const digit = out.indexOf(String(below(10)), place());
    if (digit >= 0) out.write('99999999'.slice(0, 1 + below(8)), digit);
    return out;
  }
  if (kind === 3) {
    const at = place();
    out.fill(random.next() < 0.5 ? 0xff : 0, at, Math.min(out.length, at + 1 + below(12)));
    return out;
  }
  for (let n = 1 + below(8); n > 0; n--) out[place()] = below(256);
  return out;
}

/** Opens a file and reads all of it; a fault must be one for people. */
async function opened(name: string, bytes: Buffer): Promise<'read' | 'refused'> {
  const path = join(dir, name);
  await writeFile(path, bytes);
  try {
    // What it takes to look at it is told by its head, and never more than there is in any machine.
    expect(await peek({ path, name })).toBeLessThan(2 ** 36);
    const file = await openFile(path);
    let image: StackImage | undefined;
    try {
      image = await openImage(file);
      // What says that it is vast is looked at, and not read whole.
      const rows = Math.min(image.height, Math.max(1, Math.floor(2e6 / image.width)));
      for (let p = 0; p < image.planes; p++) await image.readPixels(p, 0, rows, 1);
    } finally {
      await image?.close?.();
      await file.close();
    }
    return 'read';
  } catch (error) {
    if (!(error instanceof UserError)) throw Object.assign(new Error(`${name}: ${String(error)}`), { cause: error });
    expect(error.message).toMatch(/^[^\n]{10,500}$/);
    return 'refused';
  }
}

describe('files that are spoilt', () => {
  it('are read as far as they can be, or refused in a sentence; none ends the reader', async () => {
    const random = randomFrom(20261127);
    const outcomes = { read: 0, refused: 0 };
    for (const [name, bytes] of seeds)
      for (let round = 0; round < ROUNDS; round++) outcomes[await opened(name, spoilt(bytes, random))]++;
    expect((await readdir(dir)).filter((name) => name.startsWith('.'))).toEqual([]);
    // Both happen, or nothing was tried.
    expect(outcomes.read).toBeGreaterThan(100);
    expect(outcomes.refused).toBeGreaterThan(100);
  });

  it('carry a recipe, or none, and never a fault', async () => {
    const random = randomFrom(5);
    for (const [name, bytes] of seeds.filter(([own]) => !own.endsWith('.gz')))
      for (let round = 0; round < ROUNDS; round++)
        await readEmbeddedRecipe(memorySource(name, new Uint8Array(spoilt(bytes, random))));
  });
});

describe('formulas and recipes that are nonsense', () => {
  const WORDS = [
    'Ha',
    'OIII',
    '+',
    '-',
    '*',
    '/',
    '(',
    ')',
    ',',
    '1',
    '0.5',
    '1e9',
    'sky',
    'max',
    'min',
    '=',
    ';',
    '^',
    '?',
    ':',
    '<',
    'red',
    '\n',
    '§',
    '"',
    '\\',
    '.',
    '#',
    'é',
    '',
  ];

  it('are compiled or refused with a place, however long and deep', () => {
    const random = randomFrom(11);
    const known = new Map<string, 1 | 3>([
      ['Ha', 1],
      ['OIII', 3],
    ]);
    const tried = (text: string): void => {
      try {
        compileFormula(text, known);
      } catch (error) {
        expect(error, text.slice(0, 80)).toBeInstanceOf(UserError);
      }
    };
    for (let round = 0; round < 2000; round++)
      tried(
        Array.from(
          { length: 1 + Math.floor(random.next() * 24) },
          () => WORDS[Math.floor(random.next() * WORDS.length)],
        ).join(random.next() < 0.5 ? ' ' : ''),
      );
    for (const depth of [100, 5000, 100_000]) {
      tried('('.repeat(depth));
      tried(`${'('.repeat(depth)}Ha${')'.repeat(depth)}`);
      tried(`Ha${' + Ha'.repeat(depth)}`);
      tried(`${'-'.repeat(depth)}Ha`);
      tried(`${'max(Ha, '.repeat(depth)}Ha${')'.repeat(depth)}`);
    }
  });

  it('are parsed or refused in a sentence', async () => {
    const random = randomFrom(3);
    const text = await readFile(join(fixtures, 'design-recipe.json'), 'utf8');
    for (let round = 0; round < 1500; round++) {
      const bytes = spoilt(Buffer.from(text), random).toString('utf8');
      let value: unknown;
      try {
        value = JSON.parse(bytes);
      } catch {
        continue;
      }
      try {
        parseRecipe(value);
      } catch (error) {
        expect(error).toBeInstanceOf(UserError);
      }
    }
  });
});
