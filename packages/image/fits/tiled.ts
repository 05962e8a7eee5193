import { UserError } from '@owl-loom/base/errors';
import type { ByteSource } from './bytes';
import { numberOf, textOf } from './cards';
import { type Bitpix, decodeStored } from './decode';
import { type DitherMethod, dequantise } from './dither';
import { type Hdu, imageAxes } from './hdu';
import { inflateBounded } from './inflate';
import { riceDecode } from './rice';

interface Column {
  readonly name: string;
  readonly form: string;
  readonly offset: number;
}

const FORM_BYTES: Record<string, number> = {
  L: 1,
  X: 1,
  B: 1,
  I: 2,
  J: 4,
  K: 8,
  A: 1,
  E: 4,
  D: 8,
  C: 8,
  M: 16,
  P: 8,
  Q: 16,
};

function columnsOf(hdu: Hdu): Column[] {
  const columns: Column[] = [];
  let offset = 0;
  for (let i = 1; i <= (numberOf(hdu.cards, 'TFIELDS') ?? 0); i++) {
    const form = textOf(hdu.cards, `TFORM${i}`) ?? '';
    const match = /^(\d*)([A-Z])/.exec(form);
    columns.push({ name: (textOf(hdu.cards, `TTYPE${i}`) ?? '').toUpperCase(), form: match?.[2] ?? 'B', offset });
    const repeat = match?.[1] ? Number(match[1]) : 1;
    offset += match?.[2] === 'X' ? Math.ceil(repeat / 8) : repeat * (FORM_BYTES[match?.[2] ?? 'B'] ?? 1);
  }
  return columns;
}

/** GZIP_2 stores all first bytes, then all second ones …; this puts each number's bytes together again. */
function unshuffle(bytes: Uint8Array, width: number): Uint8Array {
  const n = bytes.length / width;
  const out = new Uint8Array(bytes.length);
  for (let b = 0; b < width; b++) for (let i = 0; i < n; i++) out[i * width + b] = bytes[b * n + i];
  return out;
}

/** Pixels that a tile may have: those of a whole image of 130 megapixels. */
const MOST_OF_A_TILE = 2 ** 27;

/** Reads tiles of a tile-compressed image (FITS 4.0 §10): RICE_1, GZIP_1 and GZIP_2, quantised floats with or without dither. */
export class TiledReader {
  readonly tileShape: number[];
  /** Pixels of a tile, which is unpacked as a whole for any of its rows. */
  readonly tilePixels: number;
  /** The tile that was read last, where its other rows are likely to be asked for next. */
  private last?: { readonly index: number; readonly values: Float64Array };
  private readonly axes: number[];
  private readonly columns: Column[];
  private readonly method: string;
  private readonly bitpix: Bitpix;
  private readonly rowBytes: number;
  private readonly tiles: number[];

  constructor(
    private readonly source: ByteSource,
    private readonly hdu: Hdu,
  ) {
    this.axes = imageAxes(hdu);
    this.columns = columnsOf(hdu);
    this.method = textOf(hdu.cards, 'ZCMPTYPE') ?? '';
    this.bitpix = (numberOf(hdu.cards, 'ZBITPIX') ?? 8) as Bitpix;
    this.rowBytes = numberOf(hdu.cards, 'NAXIS1') ?? 0;
    if (!['RICE_1', 'RICE_ONE', 'GZIP_1', 'GZIP_2'].includes(this.method)) {
      throw new UserError(
        'fits-compression',
        `${source.name} is compressed with ${this.method || 'an unnamed method'}, which Owl Loom does not read; save it with RICE_1 or GZIP, or uncompressed.`,
      );
    }
    this.tileShape = this.axes.map((n, i) => Math.min(n, numberOf(hdu.cards, `ZTILE${i + 1}`) ?? (i === 0 ? n : 1)));
    this.tiles = this.axes.map((n, i) => Math.ceil(n / this.tileShape[i]));
    this.tilePixels = this.tileShape.reduce((product, n) => product * n, 1);
    if (this.tilePixels > MOST_OF_A_TILE)
      throw new UserError(
        'fits-tiles',
        `${source.name} is compressed in tiles of ${this.tileShape.join(' x ')} pixels, which are unpacked as a whole; save it with smaller tiles, or uncompressed.`,
      );
  }

  /** Rows `y … y+rows−1` of a plane as physical values before the stack's own scale; stored integers have had no BZERO applied. */
  async readRows(plane: number, y: number, rows: number): Promise<Float64Array> {
    const width = this.axes[0];
    const out = new Float64Array(width * rows);
    const [tw, th] = this.tileShape;
    const td = this.tileShape[2] ?? 1;
    const tz = Math.floor(plane / td);
    for (let ty = Math.floor(y / th); ty * th < y + rows; ty++) {
      for (let tx = 0; tx < this.tiles[0]; tx++) {
        const index = (tz * this.tiles[1] + ty) * this.tiles[0] + tx;
        const w = Math.min(tw, width - tx * tw);
        const h = Math.min(th, this.axes[1] - ty * th);
        const d = Math.min(td, (this.axes[2] ?? 1) - tz * td);
        const values = this.last?.index === index ? this.last.values : await this.readTile(index, w * h * d);
        // Of a tile with more rows than are asked for, the others come next.
        this.last = h * d > rows ? { index, values } : undefined;
        const base = (plane - tz * td) * w * h;
        for (let row = Math.max(y, ty * th); row < Math.min(y + rows, ty * th + h); row++) {
          const from = base + (row - ty * th) * w;
          out.set(values.subarray(from, from + w), (row - y) * width + tx * tw);
        }
      }
    }
    return out;
  }

  private column(name: string): Column | undefined {
    return this.columns.find((column) => column.name === name);
  }

  private async readTile(index: number, count: number): Promise<Float64Array> {
    const row = await this.source.read(this.hdu.dataOffset + index * this.rowBytes, this.rowBytes);
    const view = new DataView(row.buffer, row.byteOffset, row.byteLength);
    const fixed = (name: string) => {
      const column = this.column(name);
      if (!column) return numberOf(this.hdu.cards, name);
      return column.form === 'D'
        ? view.getFloat64(column.offset)
        : column.form === 'E'
          ? view.getFloat32(column.offset)
          : view.getInt32(column.offset);
    };
    const compressed = await this.heap(view, this.column('COMPRESSED_DATA'), count);
    if (compressed) {
      const scale = fixed('ZSCALE');
      const quantised = this.bitpix < 0 && scale !== undefined;
      const stored = this.expand(
        compressed,
        count,
        quantised || this.bitpix > 0 ? this.integerWidth(quantised) : this.bitpix,
      );
      if (!quantised) return Float64Array.from(stored);
      const dither = (textOf(this.hdu.cards, 'ZQUANTIZ') ?? 'NO_DITHER') as DitherMethod;
      return dequantise(
        stored,
        scale,
        fixed('ZZERO') ?? 0,
        dither,
        index + 1,
        numberOf(this.hdu.cards, 'ZDITHER0') ?? 1,
        fixed('ZBLANK'),
      );
    }
    const gzipped = await this.heap(view, this.column('GZIP_COMPRESSED_DATA'), count);
    if (gzipped) return decodeStored(this.gunzip(gzipped, count), this.bitpix, count);
    const plain = await this.heap(view, this.column('UNCOMPRESSED_DATA'), count);
    if (plain) return decodeStored(plain, this.bitpix, count);
    return new Float64Array(count).fill(Number.NaN);
  }

  private integerWidth(quantised: boolean): Bitpix {
    return quantised ? 32 : this.bitpix;
  }

  /** The bytes that a column of the table points at, if any, for a tile of so many pixels. */
  private async heap(view: DataView, column: Column | undefined, count: number): Promise<Uint8Array | undefined> {
    if (!column) return undefined;
    const wide = column.form === 'Q';
    const read = (i: number) =>
      wide
        ? view.getUint32(column.offset + 8 * i) * 4294967296 + view.getUint32(column.offset + 8 * i + 4)
        : view.getUint32(column.offset + 4 * i);
    const length = read(0);
    if (length === 0) return undefined;
    // The widest pixel has 8 bytes, and no method makes a tile much larger than it was.
    if (length > 9 * count + 4096) throw new RangeError('a compressed tile is larger than its pixels');
    const start = numberOf(this.hdu.cards, 'THEAP') ?? this.rowBytes * (numberOf(this.hdu.cards, 'NAXIS2') ?? 0);
    return this.source.read(this.hdu.dataOffset + start + read(1), length);
  }

  private parameter(name: string): number | undefined {
    for (let i = 1; i < 10; i++) {
      if (textOf(this.hdu.cards, `ZNAME${i}`) === name) return numberOf(this.hdu.cards, `ZVAL${i}`);
    }
    return undefined;
  }

  private gunzip(bytes: Uint8Array, count: number): Uint8Array {
    // 8 bytes a pixel is the widest type there is.
    return inflateBounded(bytes, count * 8);
  }

  private expand(bytes: Uint8Array, count: number, bitpix: Bitpix): ArrayLike<number> {
    if (this.method.startsWith('RICE')) {
      const width = (this.parameter('BYTEPIX') ?? 4) as 1 | 2 | 4;
      return riceDecode(bytes, count, this.parameter('BLOCKSIZE') ?? 32, width);
    }
    const plain = this.gunzip(bytes, count);
    const width = plain.length / count;
    const stored = (width === 1 ? 8 : width * 8 * Math.sign(bitpix)) as Bitpix;
    return decodeStored(this.method === 'GZIP_2' ? unshuffle(plain, width) : plain, stored, count);
  }
}
