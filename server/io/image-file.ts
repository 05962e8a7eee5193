import { UserError } from '../../core/errors';
import type { ByteSource } from '../../core/fits/bytes';
import { cfaPlanes } from '../../core/fits/cfa';
import { type FitsImage, LIMITS, openFits, pixelsOf } from '../../core/fits/image';

/** An image of any form that is read, in the terms of FITS: rows from the foot, physical values, no divisor applied. */
export interface StackImage extends FitsImage {
  /** True where the whole image was decoded to memory, so that reading it again would decode it again. */
  readonly decoded?: boolean;
  /** True where a colour profile says that the numbers are meant for display. */
  readonly profiled?: boolean;
}

/** What the first bytes say a file is; undefined for what is read as FITS. */
function pictureKind(head: Uint8Array): 'PNG' | 'TIFF' | undefined {
  const text = String.fromCharCode(...head.subarray(0, 4));
  if (text === '\x89PNG') return 'PNG';
  return ['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].includes(text) ? 'TIFF' : undefined;
}

type Samples = Uint8Array | Uint16Array | Uint32Array | Float32Array | Float64Array;

/** How the codec names a depth: bits as FITS counts them, the colour spaces in which it leaves the numbers alone, and the array that holds them. */
const DEPTHS: Record<
  string,
  {
    bitpix: FitsImage['bitpix'];
    divisor?: number;
    spaces: readonly [string, string];
    of: (bytes: ArrayBuffer) => Samples;
  }
> = {
  uchar: { bitpix: 8, divisor: 255, spaces: ['b-w', 'srgb'], of: (b) => new Uint8Array(b) },
  ushort: { bitpix: 16, divisor: 65535, spaces: ['grey16', 'rgb16'], of: (b) => new Uint16Array(b) },
  uint: { bitpix: 32, divisor: 4294967295, spaces: ['b-w', 'scrgb'], of: (b) => new Uint32Array(b) },
  float: { bitpix: -32, spaces: ['b-w', 'scrgb'], of: (b) => new Float32Array(b) },
  double: { bitpix: -64, spaces: ['b-w', 'scrgb'], of: (b) => new Float64Array(b) },
};

async function decodePicture(file: ByteSource, kind: 'PNG' | 'TIFF'): Promise<StackImage> {
  const broken = (why: unknown) =>
    new UserError(
      'picture-broken',
      `${file.name} is a ${kind} that cannot be read (${why instanceof Error ? why.message.split('\n')[0] : why}); save it again as 8- or 16-bit ${kind}${kind === 'TIFF' ? ' or 32-bit float' : ''}.`,
    );
  // Most files are FITS and need no codec.
  const { default: sharp } = await import('sharp');
  try {
    const bytes = await file.read(0, file.size);
    const picture = () => sharp(bytes, { limitInputPixels: LIMITS.pixels, ignoreIcc: true, failOn: 'error' });
    const meta = await picture().metadata();
    const depth = DEPTHS[meta.depth ?? ''];
    const colours = (meta.channels ?? 0) - (meta.hasAlpha ? 1 : 0);
    if (!depth) throw new Error(`its samples are of the type ${meta.depth}`);
    if (colours !== 1 && colours !== 3) throw new Error(`it has ${colours} colours, and 1 or 3 are read`);
    const space = depth.spaces[colours === 1 ? 0 : 1];
    const made = meta.hasAlpha ? picture().removeAlpha() : picture();
    // Floating numbers are left in their own space: any change of space would bend them.
    const { data, info } = await (depth.divisor === undefined || meta.depth === 'uint'
      ? made.pipelineColourspace(space)
      : made
    )
      .toColourspace(space)
      .raw({ depth: meta.depth })
      .toBuffer({ resolveWithObject: true });
    const samples = depth.of(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength) as ArrayBuffer);
    const { width, height, channels } = info;
    const readRows: FitsImage['readRows'] = async (plane, y, rows) => {
      const out = new Float64Array(rows * width);
      for (let r = 0; r < rows; r++) {
        // A picture's first row is its top.
        const row = (height - 1 - y - r) * width;
        for (let x = 0; x < width; x++) out[r * width + x] = samples[(row + x) * channels + plane];
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
    };
  } catch (fault) {
    if (fault instanceof UserError) throw fault;
    throw broken(fault);
  }
}

/**
 * Opens a stack of any form: FITS, PNG or TIFF by its first bytes; a FITS of a colour camera (BAYERPAT) as three planes of half its size.
 * @throws UserError where it is none of these or broken
 */
export async function openImage(file: ByteSource): Promise<StackImage> {
  const kind = file.size >= 8 ? pictureKind(await file.read(0, 8)) : undefined;
  return kind ? decodePicture(file, kind) : cfaPlanes(await openFits(file));
}
