import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { type ByteSource, memorySource } from '@owl-loom/image/fits/bytes';
import { encodeFits } from '@owl-loom/image/fits/write';
import { openImage } from './image-file';
import { encodePng } from './png';
import { encodeTiff } from './tiff';

const [width, height] = [7, 5];
/** Numbers that tell plane, column and row, rows from the foot. */
const plane = (p: number) =>
  Float32Array.from({ length: width * height }, (_, i) => (1 + p + (i % width) * 3 + Math.floor(i / width) * 29) / 200);
const picture = (planes: 1 | 3, stretched = false) => ({
  width,
  height,
  planes: Array.from({ length: planes }, (_, p) => plane(p)),
  stretched,
});
const source = (parts: Iterable<Uint8Array>, name = 'a.tif'): ByteSource =>
  memorySource(name, new Uint8Array(Buffer.concat([...parts])));

async function valuesOf(
  file: ByteSource,
): Promise<{ image: Awaited<ReturnType<typeof openImage>>; planes: Float64Array[] }> {
  const image = await openImage(file);
  const planes = await Promise.all(Array.from({ length: image.planes }, (_, p) => image.readRows(p, 0, image.height)));
  return { image, planes: planes.map((values) => values.map((v) => v / (image.integerDivisor ?? 1))) };
}

describe('pictures as stacks', () => {
  it.each([
    ['TIFF of floats, mono', 1, 1e-7, async () => encodeTiff(picture(1), 32)],
    ['TIFF of floats, colour', 3, 1e-7, async () => encodeTiff(picture(3), 32)],
    ['TIFF of 16 bits, mono', 1, 1 / 65535, async () => encodeTiff(picture(1), 16)],
    ['TIFF of 16 bits, colour', 3, 1 / 65535, async () => encodeTiff(picture(3), 16)],
    ['PNG of 16 bits, colour', 3, 1 / 65535, async () => [await encodePng(picture(3), 16)]],
    ['PNG of 16 bits, mono', 1, 1 / 65535, async () => [await encodePng(picture(1), 16)]],
    ['PNG of 8 bits', 3, 1 / 255, async () => [await encodePng(picture(3), 8)]],
    ['stretched TIFF with its profile', 3, 1 / 65535, async () => encodeTiff(picture(3, true), 16)],
  ] as const)('%s give the numbers that went in, the right way up', async (_, count, within, make) => {
    const { image, planes } = await valuesOf(source(await make()));
    expect([image.width, image.height, image.planes]).toEqual([width, height, count]);
    planes.forEach((values, p) =>
      values.forEach((v, i) => expect(Math.abs(v - plane(p)[i])).toBeLessThanOrEqual(within)),
    );
  });

  it('with a profile are taken for stretched, without one for linear', async () => {
    expect((await openImage(source(encodeTiff(picture(3, true), 16)))).profiled).toBe(true);
    expect((await openImage(source(encodeTiff(picture(3), 16)))).profiled).toBe(false);
  });

  it('leave an alpha channel out', async () => {
    const bytes = await sharp(
      Uint8Array.from({ length: 4 * 4 * 4 }, (_, i) => (i % 4 === 3 ? 128 : i)),
      { raw: { width: 4, height: 4, channels: 4 } },
    )
      .png()
      .toBuffer();
    const { image, planes } = await valuesOf(memorySource('a.png', new Uint8Array(bytes)));
    expect(image.planes).toBe(3);
    // The last row of the file is the foot.
    expect(planes[1][0] * 255).toBeCloseTo(4 * 4 * 3 + 1, 6);
  });

  it('that are broken are refused in one sentence', async () => {
    const whole = Buffer.concat([...encodeTiff(picture(3), 16)]);
    await expect(openImage(memorySource('cut.tif', new Uint8Array(whole.subarray(0, 60))))).rejects.toThrow(
      /cut.tif is a TIFF that cannot be read/,
    );
    await expect(
      openImage(memorySource('bad.png', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 1, 2, 3]))),
    ).rejects.toThrow(/bad.png is a PNG that cannot be read/);
    await expect(
      openImage(memorySource('no.fits', new TextEncoder().encode('nothing but words, and rather many of them'))),
    ).rejects.toThrow(/not a FITS file/);
  });
});

describe('stacks of colour cameras', () => {
  const [w, h] = [6, 4];
  /** A raw frame whose red pixels are 0.1 …, greens 0.3 and 0.5, blues 0.7, a little more along x and y. */
  const raw = (pattern: string) =>
    Float32Array.from({ length: w * h }, (_, i) => {
      const [x, y] = [i % w, Math.floor(i / w)];
      const at = (y % 2) * 2 + (x % 2);
      const colour = pattern[at];
      return (
        { R: 0.1, G: pattern.indexOf('G') === at ? 0.3 : 0.5, B: 0.7 }[colour as 'R' | 'G' | 'B'] +
        0.001 * Math.floor(x / 2) +
        0.01 * Math.floor(y / 2)
      );
    });
  const file = (
    pattern: string,
    own: { key: string; value: string | number }[] = [],
    topDown = false,
    values = raw(pattern),
  ) =>
    source(
      encodeFits({
        width: w,
        height: h,
        planes: [values],
        own: [{ key: 'BAYERPAT', value: pattern }, ...own],
        topDown,
      }),
      'cfa.fits',
    );

  it.each(['RGGB', 'BGGR', 'GRBG', 'GBRG'])(
    'of the pattern %s come apart into planes of half the size, no pixel invented',
    async (pattern) => {
      const { image, planes } = await valuesOf(file(pattern));
      expect([image.width, image.height, image.planes]).toEqual([3, 2, 3]);
      planes.forEach((values, p) =>
        values.forEach((v, i) =>
          expect(v).toBeCloseTo([0.1, 0.4, 0.7][p] + 0.001 * (i % 3) + 0.01 * Math.floor(i / 3), 6),
        ),
      );
    },
  );

  it('whose pattern is moved by offsets, or runs from the top down, come apart alike', async () => {
    const moved = await valuesOf(file('RGGB', [{ key: 'XBAYROFF', value: 1 }], false, raw('GRBG')));
    expect(moved.planes[0][0]).toBeCloseTo(0.1, 6);
    expect(moved.planes[2][0]).toBeCloseTo(0.7, 6);
    // Written top-down, the file's first row is the picture's last: its pattern counts from there.
    const down = await valuesOf(file('GBRG', [], true, raw('RGGB')));
    expect(down.planes[0][0]).toBeCloseTo(0.1, 6);
    expect(down.planes[2][0]).toBeCloseTo(0.7, 6);
  });

  it('of a pattern that is not known are refused, and of three planes left alone', async () => {
    await expect(
      openImage(
        source(
          encodeFits({ width: w, height: h, planes: [raw('RGGB')], own: [{ key: 'BAYERPAT', value: 'CYGM' }] }),
          'odd.fits',
        ),
      ),
    ).rejects.toThrow(/odd.fits: Bayer pattern “CYGM” is not supported/);
    const three = await openImage(
      source(
        encodeFits({
          width: w,
          height: h,
          planes: [raw('RGGB'), raw('RGGB'), raw('RGGB')],
          own: [{ key: 'BAYERPAT', value: 'RGGB' }],
        }),
        'three.fits',
      ),
    );
    expect([three.width, three.planes]).toEqual([w, 3]);
  });
});
