import { tmpdir } from 'node:os';
import { dirname } from 'node:path';
import type { Metadata, Sharp } from 'sharp';
import { UserError } from '@owl-loom/base/errors';
import type { ByteSource } from '@owl-loom/image/fits/bytes';
import { debayerHalfSize } from '@owl-loom/image/fits/cfa';
import { type FitsImage, LIMITS, openFits, pixelsOf } from '@owl-loom/image/fits/image';
import type { FileSource } from './open-file';
import { type RawFile, rawFile } from './raw-file';

/** An image of any form that is read, in the terms of FITS: rows from the foot, physical values, no divisor applied. */
export interface StackImage extends FitsImage {
  /** True where the image is decoded as a whole before any of it is read, so that reading it again would decode it again. */
  readonly decoded?: boolean;
  /** True where a colour profile says that the numbers are meant for display. */
  readonly profiled?: boolean;
  /** Reads it to its end without keeping any of it. */
  verify?(): Promise<void>;
  /** Lets go of what was decoded. */
  close?(): Promise<void>;
}

/** What the first bytes say a file is; undefined for what is read as FITS. */
function pictureKind(head: Uint8Array): 'PNG' | 'TIFF' | undefined {
  const text = String.fromCharCode(...head.subarray(0, 4));
  if (text === '\x89PNG') return 'PNG';
  return ['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].includes(text) ? 'TIFF' : undefined;
}

/** How the codec names a depth: bits as FITS counts them, and the colour spaces in which it leaves the numbers alone. */
const DEPTHS: Record<string, { bitpix: FitsImage['bitpix']; divisor?: number; spaces: readonly [string, string] }> = {
  uchar: { bitpix: 8, divisor: 255, spaces: ['b-w', 'srgb'] },
  ushort: { bitpix: 16, divisor: 65535, spaces: ['grey16', 'rgb16'] },
  uint: { bitpix: 32, divisor: 4294967295, spaces: ['b-w', 'scrgb'] },
  float: { bitpix: -32, spaces: ['b-w', 'scrgb'] },
  double: { bitpix: -64, spaces: ['b-w', 'scrgb'] },
};

/** Bytes that the codec takes for rows on their way, whatever the picture. */
const ROWS = 64 * 2 ** 20;
/** A packed picture is looked at without anyone having asked for memory; it may take no more than this. */
const MOST_PACKED = 256 * 2 ** 20;

/** A picture's file with what the codec reads of it: its path, or its bytes. */
export type PictureSource = ByteSource & Partial<Pick<FileSource, 'path' | 'packed'>>;

interface Opened {
  readonly picture: () => Sharp;
  readonly meta: Metadata;
  /** Bytes that the codec takes to decode it. Only PNG that is not interlaced is sure to come in strips. */
  readonly needs: number;
}

async function openPicture(file: PictureSource, kind: 'PNG' | 'TIFF'): Promise<Opened> {
  // Most files are FITS and need no codec.
  const { default: sharp } = await import('sharp');
  const input = file.path ?? Buffer.from(await file.read(0, file.size));
  const picture = () =>
    sharp(input, { limitInputPixels: LIMITS.pixels, ignoreIcc: true, failOn: 'error', sequentialRead: true });
  const meta = await picture().metadata();
  const sample = Math.abs(DEPTHS[meta.depth ?? '']?.bitpix ?? 8) / 8;
  const whole = meta.width * meta.height * (meta.channels ?? 4) * sample;
  return { picture, meta, needs: ROWS + (kind === 'PNG' && !meta.isProgressive ? 0 : whole) };
}

/** What cannot be read of a picture, as a sentence. */
const brokenPicture = ({ name }: ByteSource, kind: 'PNG' | 'TIFF', why: unknown): UserError =>
  why instanceof UserError
    ? why
    : new UserError(
        'picture-broken',
        `${name} is a ${kind} that cannot be read (${why instanceof Error ? why.message.split('\n')[0] : why}); save it again as 8- or 16-bit ${kind}${kind === 'TIFF' ? ' or 32-bit float' : ''}.`,
      );

async function decodePicture(file: PictureSource, kind: 'PNG' | 'TIFF'): Promise<StackImage> {
  const inWords = async <T>(work: () => Promise<T>): Promise<T> => {
    try {
      return await work();
    } catch (error) {
      throw brokenPicture(file, kind, error);
    }
  };
  const { picture, meta, needs } = await inWords(() => openPicture(file, kind));
  const { width, height } = meta;
  const depth = DEPTHS[meta.depth ?? ''];
  const colours = (meta.channels ?? 0) - (meta.hasAlpha ? 1 : 0);
  if (!depth) throw brokenPicture(file, kind, `its samples are of the type ${meta.depth}`);
  if (colours !== 1 && colours !== 3) throw brokenPicture(file, kind, `it has ${colours} colours, and 1 or 3 are read`);
  if (file.packed && needs > MOST_PACKED)
    throw new UserError('picture-packed', `${file.name} is a large picture that is gzipped; unpack it first.`);
  const space = depth.spaces[colours === 1 ? 0 : 1];
  const samples = (): Sharp => {
    const made = meta.hasAlpha ? picture().removeAlpha() : picture();
    // Floating numbers are left in their own space: any change of space would bend them.
    const own = depth.divisor === undefined || meta.depth === 'uint' ? made : made.pipelineColourspace(space);
    return own.toColourspace(space);
  };
  let raw: Promise<RawFile> | undefined;
  const bytes = (width * height * colours * Math.abs(depth.bitpix)) / 8;
  const decoded = (): Promise<RawFile> => {
    raw ??= inWords(() =>
      rawFile(samples(), file.path && !file.packed ? dirname(file.path) : tmpdir(), bytes, file.name),
    );
    return raw;
  };
  const readRows: FitsImage['readRows'] = async (plane, y, rows) => {
    const from = await decoded();
    const out = new Float64Array(rows * width);
    // A picture's first row is its top.
    const strip = from.rows(height - y - rows, rows);
    for (let r = 0; r < rows; r++) {
      let at = (rows - 1 - r) * width * from.bands + plane;
      for (let x = r * width; x < (r + 1) * width; x++, at += from.bands) out[x] = strip[at];
    }
    return out;
  };
  return {
    name: file.name,
    width,
    height,
    planes: colours,
    bitpix: depth.bitpix,
    cards: [],
    topDown: false,
    integerDivisor: depth.divisor,
    decoded: true,
    profiled: meta.icc !== undefined,
    readRows,
    readPixels: pixelsOf(readRows),
    // Its last row is there only when all before it has been read.
    verify: () =>
      inWords(async () => {
        await picture()
          .extract({ left: 0, top: height - 1, width, height: 1 })
          .raw()
          .toBuffer();
      }),
    close: async () => (await raw)?.close(),
  };
}

/** What a file is by its first bytes; undefined for what is read as FITS. */
export const kindOf = async (file: ByteSource): Promise<'PNG' | 'TIFF' | undefined> =>
  file.size >= 8 ? pictureKind(await file.read(0, 8)) : undefined;

/**
 * Bytes of memory that it takes to look at a file, told by its head alone.
 * @throws UserError where it is a picture that is broken
 */
export async function bytesToLook(file: PictureSource): Promise<number> {
  const kind = await kindOf(file);
  if (!kind) return 0;
  return openPicture(file, kind).then(
    ({ needs }) => needs,
    (error: unknown) => {
      throw brokenPicture(file, kind, error);
    },
  );
}

/**
 * Opens a stack of any form: FITS, PNG or TIFF by its first bytes; a FITS of a colour camera (BAYERPAT) as three planes of half its size.
 * @throws UserError where it is none of these or broken
 */
export async function openImage(file: PictureSource): Promise<StackImage> {
  const kind = await kindOf(file);
  return kind ? decodePicture(file, kind) : debayerHalfSize(await openFits(file));
}
