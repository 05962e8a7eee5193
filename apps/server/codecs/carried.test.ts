import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readEmbeddedRecipe } from '@owl-loom/recipe/embedded-recipe';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { encodeFits } from '@owl-loom/image/fits/write';
import { encodeJpeg } from './jpeg';
import { encodePng } from './png';
import { encodeTiff } from './tiff';

const recipe = { format: 'owl-loom-recipe', version: 1, name: 'Ночь 🌌', strands: [] };
const text = JSON.stringify(recipe);
const picture = { width: 7, height: 5, planes: [0, 1, 2].map(() => new Float32Array(35).fill(0.3)), stretched: true };
const words = { title: 'T', caption: 'C', recipe: text };
const from = (bytes: Uint8Array) => readEmbeddedRecipe(memorySource('x', bytes));

const FILES: readonly (readonly [string, () => Promise<Uint8Array>])[] = [
  [
    'FITS',
    async () =>
      Buffer.concat([...encodeFits({ ...picture, extensions: [{ name: 'RECIPE', bytes: Buffer.from(text) }] })]),
  ],
  ['PNG', () => encodePng(picture, 16, words)],
  ['TIFF', async () => Buffer.concat(encodeTiff(picture, 32, words))],
  ['JSON', async () => Buffer.from(`\n ${text}`)],
];

describe('the recipe that a file carries', () => {
  it.each(FILES)('is read from a %s as it was written', async (_, make) => {
    expect(await from(await make())).toEqual(recipe);
  });

  it.each(FILES)('of a %s that is cut off or changed does no harm', async (_, make) => {
    const bytes = await make();
    await fc.assert(
      fc.asyncProperty(
        fc.nat(bytes.length),
        fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { maxLength: 6 }),
        async (end, changes) => {
          const broken = Uint8Array.from(bytes);
          for (const [at, value] of changes) broken[at] = value;
          const found = await from(broken.subarray(0, end));
          expect(found === undefined || typeof found === 'object').toBe(true);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('is none in other files', async () => {
    expect(await from(Buffer.concat([...encodeFits(picture)]))).toBeUndefined();
    expect(await from(await encodePng(picture, 8))).toBeUndefined();
    expect(await from(Buffer.concat(encodeTiff(picture, 16, { caption: 'a caption {' })))).toBeUndefined();
    expect(await from(await encodeJpeg(picture, words))).toBeUndefined();
    expect(await from(Buffer.from('{ not json at all'))).toBeUndefined();
    expect(await from(new Uint8Array(3))).toBeUndefined();
  });
});
