import { readFileSync } from 'node:fs';
import { gunzipSync, gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { memorySource } from './bytes';
import { numberOf, textOf } from './cards';
import { BLOCK } from './hdu';
import { openFits } from './image';

const folder = new URL('../../testing/fixtures/', import.meta.url);
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

  /** An image of 16-bit numbers in tiles of full width and so many rows, as another program could write it. */
  function inTiles(width: number, height: number, rows: number): Uint8Array {
    const cards = (lines: string[]): Buffer => {
      const text = [...lines, 'END'].map((line) => line.padEnd(80)).join('');
      return Buffer.from(text.padEnd(Math.ceil(text.length / BLOCK) * BLOCK));
    };
    const card = (key: string, value: string | number) =>
      `${key.padEnd(8)}= ${typeof value === 'number' ? String(value).padStart(20) : `'${value.padEnd(8)}'`}`;
    const tiles = Array.from({ length: Math.ceil(height / rows) }, (_, t) => {
      const many = Math.min(rows, height - t * rows) * width;
      const data = Buffer.alloc(2 * many);
      for (let i = 0; i < many; i++) data.writeInt16BE(pattern(t * rows * width + i, width), 2 * i);
      return gzipSync(data);
    });
    const table = Buffer.alloc(8 * tiles.length);
    let offset = 0;
    for (const [t, tile] of tiles.entries()) {
      table.writeInt32BE(tile.length, 8 * t);
      table.writeInt32BE(offset, 8 * t + 4);
      offset += tile.length;
    }
    const body = Buffer.concat([table, ...tiles]);
    const head = cards([
      "XTENSION= 'BINTABLE'",
      card('BITPIX', 8),
      card('NAXIS', 2),
      card('NAXIS1', 8),
      card('NAXIS2', tiles.length),
      card('PCOUNT', offset),
      card('GCOUNT', 1),
      card('TFIELDS', 1),
      card('TTYPE1', 'COMPRESSED_DATA'),
      card('TFORM1', '1PB'),
      'ZIMAGE  =                    T',
      card('ZCMPTYPE', 'GZIP_1'),
      card('ZBITPIX', 16),
      card('ZNAXIS', 2),
      card('ZNAXIS1', width),
      card('ZNAXIS2', height),
      card('ZTILE1', width),
      card('ZTILE2', rows),
    ]);
    const first = cards(['SIMPLE  =                    T', card('BITPIX', 8), card('NAXIS', 0)]);
    return new Uint8Array(Buffer.concat([first, head, body, Buffer.alloc((BLOCK - (body.length % BLOCK)) % BLOCK)]));
  }

  it('unpacks a tile of many rows once for rows that follow each other, and gives the same in any order', async () => {
    const [width, height, rows] = [33, 20, 8];
    const bytes = inTiles(width, height, rows);
    const whole = Array.from({ length: width * height }, (_, i) => pattern(i, width));
    let reads = 0;
    const plain = memorySource('tiles.fits', bytes);
    const counted = {
      ...plain,
      read(offset: number, length: number) {
        reads++;
        return plain.read(offset, length);
      },
    };
    const image = await openFits(counted);
    expect(image.tilePixels).toBe(width * rows);
    const row = async (y: number) => [...(await image.readRows(0, y, 1))];
    reads = 0;
    for (let y = 0; y < height; y++) expect(await row(y)).toEqual(whole.slice(y * width, (y + 1) * width));
    // Three tiles, each by its place and its bytes.
    expect(reads).toBe(6);
    for (const y of [19, 0, 8, 7, 9, 15, 16, 3]) expect(await row(y)).toEqual(whole.slice(y * width, (y + 1) * width));
    expect([...(await image.readRows(0, 5, 13))]).toEqual(whole.slice(5 * width, 18 * width));
  });

  it('refuses tiles that would be unpacked to gigabytes, by their header alone', async () => {
    const text = Buffer.from(inTiles(33, 20, 20)).toString('latin1');
    const said = (n: number) => `= ${String(n).padStart(20)}`;
    const large = text.replaceAll(said(33), said(20_000)).replaceAll(said(20), said(20_000));
    const bytes = new Uint8Array(Buffer.from(large, 'latin1'));
    await expect(openFits(memorySource('bomb.fits', bytes))).rejects.toMatchObject({
      code: 'fits-tiles',
      message: expect.stringMatching(/20000 x 20000 pixels, which are unpacked as a whole; save it with smaller tiles/),
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
      /1000000000 × 10 pixels; the limit is 100000 per side/,
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
    ['data cut short', bytesOf('u16.fits').subarray(0, BLOCK + 700), /odd\.fits is truncated: 700 of 1320 bytes/],
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
