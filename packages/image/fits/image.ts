import { UserError } from '@owl-loom/base/errors';
import type { ByteSource } from './bytes';
import { type Card, numberOf, textOf } from './cards';
import {
  type Bitpix,
  type Scaling,
  applyScaling,
  decodePixels,
  decodeStored,
  toFloat32Divided,
  integerDivisor,
} from './decode';
import { type Hdu, imageAxes, isTiled, readHdus } from './hdu';
import { TiledReader } from './tiled';

/** The longest side and the most pixels that a stack may have. */
export const LIMITS = { side: 100_000, pixels: 2 ** 30 } as const;

/** The first image of a FITS file that Owl Loom can use, read row by row. */
export interface FitsImage {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly planes: 1 | 3;
  readonly bitpix: Bitpix;
  readonly cards: readonly Card[];
  /** True where a ROWORDER card says that the first row is the top of the picture. */
  readonly topDown: boolean;
  /** Pixels that are unpacked together for any of their rows; none where rows are read by themselves. */
  readonly tilePixels?: number;
  /** The divisor of an integer type; `undefined` for real numbers, whose divisor depends on how high they reach. */
  readonly integerDivisor: number | undefined;
  /**
   * Physical values (BSCALE and BZERO applied, no divisor) of rows counted from the foot of the picture.
   * @param plane 0 to planes − 1
   */
  readRows(plane: number, y: number, rows: number): Promise<Float64Array>;
  /** The same in single precision over a divisor, as pixels are kept; the quick way where a file's form allows it. */
  readPixels(plane: number, y: number, rows: number, divisor: number): Promise<Float32Array>;
}

function usable(hdu: Hdu): { width: number; height: number; planes: 1 | 3 } | undefined {
  const axes = imageAxes(hdu);
  while (axes.length > 2 && axes[axes.length - 1] === 1) axes.pop();
  const [width, height, planes = 1] = axes;
  if (axes.length < 2 || axes.length > 3 || !(planes === 1 || planes === 3) || width < 1 || height < 1)
    return undefined;
  return { width, height, planes };
}

function checkSize(name: string, width: number, height: number, planes: number): void {
  if (width > LIMITS.side || height > LIMITS.side || width * height * planes > LIMITS.pixels) {
    throw new UserError(
      'image-too-large',
      `${name} is ${width} × ${height} pixels; the limit is ${LIMITS.side} per side and ${LIMITS.pixels} in all. Crop or bin it, or check its header.`,
    );
  }
}

async function findImage(source: ByteSource): Promise<Hdu> {
  const seen: string[] = [];
  for await (const hdu of readHdus(source)) {
    if (usable(hdu)) return hdu;
    const axes = imageAxes(hdu);
    if (axes.length > 0) seen.push(`an image of ${axes.join(' x ')}`);
    else if (textOf(hdu.cards, 'XTENSION')) seen.push('a table');
  }
  const what = seen.length === 0 ? 'no data' : `only ${[...new Set(seen)].join(' and ')}`;
  throw new UserError(
    'fits-no-image',
    `${source.name} holds ${what}; Owl Loom needs an image of two axes, or of three planes.`,
  );
}

/**
 * Opens the first 2-D or 3-plane image of a FITS file; reads only headers.
 * @throws UserError where the file is no FITS, is damaged, has no such image, or is too large
 */
export async function openFits(source: ByteSource): Promise<FitsImage> {
  const hdu = await findImage(source);
  const shape = usable(hdu);
  if (!shape) throw new Error('unreachable: findImage gives usable images only');
  const { width, height, planes } = shape;
  checkSize(source.name, width, height, planes);
  const tiled = isTiled(hdu);
  const bitpix = numberOf(hdu.cards, tiled ? 'ZBITPIX' : 'BITPIX') as Bitpix;
  if (hdu.dataOffset + hdu.dataSize > source.size) {
    throw new UserError(
      'fits-cut-short',
      `${source.name} is truncated: ${Math.max(0, source.size - hdu.dataOffset)} of ${hdu.dataSize} bytes of data are present. Copy the file again.`,
    );
  }
  const scaling: Scaling = {
    factor: numberOf(hdu.cards, 'BSCALE') ?? 1,
    zero: numberOf(hdu.cards, 'BZERO') ?? 0,
    blank: numberOf(hdu.cards, tiled ? 'ZBLANK' : 'BLANK') ?? numberOf(hdu.cards, 'BLANK'),
  };
  const topDown = (textOf(hdu.cards, 'ROWORDER') ?? '').trim().toUpperCase() === 'TOP-DOWN';
  const reader = tiled ? new TiledReader(source, hdu) : undefined;
  const bytes = Math.abs(bitpix) / 8;

  /** What goes wrong while data are read or unpacked, in words. */
  const reading = async <T>(y: number, work: () => Promise<T>): Promise<T> => {
    try {
      return await work();
    } catch (error) {
      if (error instanceof UserError) throw error;
      throw new UserError(
        'fits-damaged',
        `${source.name} has damaged data near row ${y} (${error instanceof Error ? error.message : error}); copy or save the file again.`,
      );
    }
  };
  const stored = (plane: number, y: number, rows: number): Promise<Uint8Array> =>
    source.read(hdu.dataOffset + (plane * height + y) * width * bytes, rows * width * bytes);
  const rowOf = (y: number, rows: number): number => (topDown ? height - y - rows : y);

  const readRows = async (plane: number, y: number, rows: number): Promise<Float64Array> => {
    const from = rowOf(y, rows);
    const values = await reading(from, async () =>
      reader ? reader.readRows(plane, from, rows) : decodeStored(await stored(plane, from, rows), bitpix, rows * width),
    );
    applyScaling(values, scaling, bitpix > 0);
    if (topDown) reverseRows(values, width);
    return values;
  };

  return {
    name: source.name,
    width,
    height,
    planes,
    bitpix,
    cards: hdu.cards,
    topDown,
    tilePixels: reader?.tilePixels,
    integerDivisor: integerDivisor(bitpix, scaling),
    readRows,
    async readPixels(plane, y, rows, divisor) {
      // Unpacked tiles are numbers already.
      if (reader) return pixelsOf(readRows)(plane, y, rows, divisor);
      const from = rowOf(y, rows);
      const data = await reading(from, () => stored(plane, from, rows));
      const pixels = decodePixels(data, bitpix, rows * width, scaling, divisor);
      if (topDown) reverseRows(pixels, width);
      return pixels;
    },
  };
}

/** Pixels from rows of any numbers. */
export const pixelsOf =
  (readRows: FitsImage['readRows']): FitsImage['readPixels'] =>
  async (plane, y, rows, divisor) =>
    toFloat32Divided(await readRows(plane, y, rows), divisor);

/** Turns the order of rows about, in place. */
export function reverseRows(values: Float64Array | Float32Array, width: number): void {
  for (let low = 0, high = values.length - width; low < high; low += width, high -= width) {
    const row = values.slice(low, low + width);
    values.copyWithin(low, high, high + width);
    values.set(row, high);
  }
}
