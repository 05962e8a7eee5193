import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { memorySource } from './bytes';
import { numberOf, textOf } from './cards';
import { BLOCK } from './hdu';
import { openFits } from './image';

const folder = new URL('../testing/fixtures/', import.meta.url);
const bytesOf = (name: string) => new Uint8Array(readFileSync(new URL(name, folder)));
const open = (name: string) => openFits(memorySource(name, bytesOf(name)));

/** The pattern of the fixtures, which another program wrote: ((7x + 131y) mod 251). */
const pattern = (i: number, width = 33) => ((i % width) * 7 + Math.floor(i / width) * 131) % 251;

async function pixels(name: string, plane = 0): Promise<number[]> {
  const image = await open(name);
  return [...(await image.readRows(plane, 0, image.height))];
}

describe('stored types', () => {
  it.each([
    ['u8.fits', 8, 255, (v: number) => v],
    ['i16.fits', 16, 32767, (v: number) => v * 100 - 9000],
    ['u16.fits', 16, 65535, (v: number) => v * 250],
    ['i32.fits', 32, 2147483647, (v: number) => v * 5_000_000 - 600_000_000],
    ['u32.fits', 32, 4294967295, (v: number) => v * 16_000_000],
    ['i64.fits', 64, 2 ** 63 - 1, (v: number) => v * 3e16 - 3e18],
    ['f32.fits', -32, undefined, (v: number) => Math.fround(v / 1000)],
    ['f64.fits', -64, undefined, (v: number) => v / 3],
    ['scaled.fits', 16, undefined, (v: number) => v * 0.5 + 10],
  ] as const)('%s', async (name, bitpix, divisor, value) => {
    const image = await open(name);
    expect([image.width, image.height, image.planes, image.bitpix, image.integerDivisor]).toEqual([
      33,
      20,
      1,
      bitpix,
      divisor,
    ]);
    expect(await pixels(name)).toEqual(Array.from({ length: 660 }, (_, i) => value(pattern(i))));
  });

  it('takes BLANK, NaN and infinity for no data', async () => {
    const blank = await pixels('blank.fits');
    expect(blank.flatMap((v, i) => (Number.isNaN(v) ? [i] : []))).toEqual([2 * 33 + 5]);
    const nan = await pixels('nan.fits');
    expect(nan.flatMap((v, i) => (Number.isNaN(v) ? [i] : []))).toEqual([0, 3 * 33 + 4]);
  });

  it('reads three planes, a cube of one, and an image behind a table', async () => {
    expect((await open('cube3.fits')).planes).toBe(3);
    expect((await pixels('cube3.fits', 2))[40]).toBeCloseTo((pattern(40) + 2) / 1000, 8);
    expect((await open('cube1.fits')).planes).toBe(1);
    expect((await pixels('extension.fits'))[100]).toBe(pattern(100) * 250);
  });

  it('reads single rows without the rest', async () => {
    const image = await open('u16.fits');
    expect([...(await image.readRows(0, 7, 2))]).toEqual(
      Array.from({ length: 66 }, (_, i) => pattern(7 * 33 + i) * 250),
    );
  });
});

describe('tile compression', () => {
  const expected = JSON.parse(readFileSync(new URL('expected.json', folder), 'utf8')) as Record<
    string,
    (number | null)[]
  >;

  it.each(Object.keys(expected))('%s gives what its writer reads back', async (name) => {
    const image = await open(name);
    const found: number[] = [];
    for (let p = 0; p < image.planes; p++) found.push(...(await image.readRows(p, 0, image.height)));
    const wanted = expected[name];
    expect(found.length).toBe(wanted.length);
    const lossless = !name.includes('f32') || name.startsWith('gzip');
    found.forEach((v, i) => {
      const w = wanted[i];
      if (w === null) expect(v).toBeNaN();
      else if (lossless) expect(v).toBe(w);
      // The writer gives quantised floats back as float32.
      else expect(Math.abs(v - w)).toBeLessThan(1e-5);
    });
  });

  it('reads rows across tiles', async () => {
    const image = await open('rice-i32.fits');
    expect([...(await image.readRows(0, 5, 4))]).toEqual(
      Array.from({ length: 4 * 33 }, (_, i) => pattern(5 * 33 + i) * 50000 - 6000000),
    );
  });

  it('names a method that it does not read', async () => {
    await expect(open('hcompress.fits')).rejects.toThrow(/hcompress.fits is compressed with HCOMPRESS_1/);
  });
});

describe('cards', () => {
  it('reads long, HIERARCH, quoted and plain values', async () => {
    const { cards } = await open('cards.fits');
    expect(textOf(cards, 'LONGTXT')).toMatch(
      /^An owl sat on the loom and counted threads: (one two three four five six seven eight nine ten ?){3}$/,
    );
    expect(numberOf(cards, 'LOOM WARP COUNT')).toBe(42);
    expect(textOf(cards, 'OBSERVER')).toBe("O'Wool");
    expect(numberOf(cards, 'EXPTIME')).toBe(125);
    expect(cards.find((card) => card.key === 'OK')?.value).toBe(true);
    expect(cards.find((card) => card.key === 'HISTORY')?.comment).toContain('woven twice');
  });
});

describe('bad files', () => {
  const text = (value: string) => new Uint8Array([...value].map((c) => c.charCodeAt(0)));
  const header = (...cards: string[]) =>
    text(
      [...cards, 'END']
        .map((card) => card.padEnd(80))
        .join('')
        .padEnd(BLOCK),
    );
  const opening = (bytes: Uint8Array) => openFits(memorySource('odd.fits', bytes));

  it.each([
    ['a text file', text('These are not the stars you are looking for.'), /odd.fits is not a FITS file/],
    ['an empty file', new Uint8Array(0), /odd.fits is not a FITS file/],
    [
      'no END',
      text(
        ['SIMPLE  =                    T', 'BITPIX  =                   16', 'NAXIS   =                    2']
          .map((c) => c.padEnd(80))
          .join('')
          .padEnd(2 * BLOCK),
      ),
      /without an END card/,
    ],
    [
      'a monstrous side',
      header(
        'SIMPLE  =                    T',
        'BITPIX  =                   16',
        'NAXIS   =                    2',
        'NAXIS1  =           1000000000',
        'NAXIS2  =                   10',
      ),
      /1000000000 x 10 pixels, more than/,
    ],
    [
      'a negative side',
      header(
        'SIMPLE  =                    T',
        'BITPIX  =                   16',
        'NAXIS   =                    2',
        'NAXIS1  =                   -5',
        'NAXIS2  =                   10',
      ),
      /NAXIS1/,
    ],
    [
      'an odd BITPIX',
      header('SIMPLE  =                    T', 'BITPIX  =                   12', 'NAXIS   =                    0'),
      /BITPIX 12/,
    ],
    ['data cut short', bytesOf('u16.fits').subarray(0, BLOCK + 700), /cut short/],
    ['a table only', bytesOf('table.fits'), /only a table/],
    [
      'four planes',
      header(
        'SIMPLE  =                    T',
        'BITPIX  =                    8',
        'NAXIS   =                    3',
        'NAXIS1  =                    4',
        'NAXIS2  =                    4',
        'NAXIS3  =                    4',
      ),
      /image of 4 x 4 x 4/,
    ],
  ])('%s gets one sentence', async (_, bytes, message) => {
    await expect(opening(bytes)).rejects.toThrow(message);
    await expect(opening(bytes)).rejects.toMatchObject({ name: 'UserError' });
  });

  it('names the place of damage in a compressed tile', async () => {
    const bytes = bytesOf('gzip1-i16.fits').slice();
    bytes.fill(0x5a, bytes.length - 2800, bytes.length - 300);
    const image = await opening(bytes);
    await expect(image.readRows(0, 0, 20)).rejects.toThrow(/odd.fits has damaged data near row/);
  });

  it('knows a gzipped file once unpacked', async () => {
    const image = await openFits(memorySource('packed.fits.gz', new Uint8Array(gunzipSync(bytesOf('packed.fits.gz')))));
    expect(image.integerDivisor).toBe(65535);
  });
});
