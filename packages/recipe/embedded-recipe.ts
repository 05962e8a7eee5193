import { type ByteSource, latin1 } from '@owl-loom/image/fits/bytes';
import { textOf } from '@owl-loom/image/fits/cards';
import { readHdus } from '@owl-loom/image/fits/hdu';
import { parseJsonOrUndefined } from '@owl-loom/base/json';

/** A recipe larger than this is none that anyone has woven by. */
const MOST = 16 * 2 ** 20;
/** Fields of a TIFF, and chunks of a PNG, beyond which a file is taken for broken. */
const MANY = 4000;

const utf8 = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** The text of an iTXt chunk of a PNG whose keyword is Recipe, uncompressed as we write it. */
async function inPng(source: ByteSource): Promise<string | undefined> {
  for (let at = 8, n = 0; at + 12 <= source.size && n < MANY; n++) {
    const head = await source.read(at, 8);
    const [length, name] = [viewOf(head).getUint32(0), latin1(head.subarray(4))];
    // What is said of a picture stands before its pixels.
    if (name === 'IDAT' || name === 'IEND') return undefined;
    if (name === 'iTXt' && length <= MOST) {
      const body = await source.read(at + 8, length);
      const end = body.indexOf(0);
      if (latin1(body.subarray(0, end)) === 'Recipe' && body[end + 1] === 0) return utf8(body.subarray(end + 5));
    }
    at += 12 + length;
  }
  return undefined;
}

/** The image description of a TIFF of either byte order (tag 270). */
async function inTiff(source: ByteSource): Promise<string | undefined> {
  const head = viewOf(await source.read(0, 8));
  const little = head.getUint16(0) === 0x4949;
  const ifd = head.getUint32(4, little);
  const count = viewOf(await source.read(ifd, 2)).getUint16(0, little);
  if (count > MANY) return undefined;
  const fields = viewOf(await source.read(ifd + 2, 12 * count));
  for (let at = 0; at < 12 * count; at += 12) {
    if (fields.getUint16(at, little) !== 270) continue;
    const length = fields.getUint32(at + 4, little);
    if (length <= 4 || length > MOST) return undefined;
    return utf8(await source.read(fields.getUint32(at + 8, little), length)).replace(/\0+$/, '');
  }
  return undefined;
}

/** The bytes of a FITS extension called RECIPE. */
async function inFits(source: ByteSource): Promise<string | undefined> {
  for await (const { cards, dataOffset, dataSize } of readHdus(source))
    if (textOf(cards, 'EXTNAME')?.trim() === 'RECIPE' && dataSize <= MOST)
      return utf8(await source.read(dataOffset, dataSize));
  return undefined;
}

// A description that begins with a brace and is no JSON is a description.
const asJson = (text: string | undefined): unknown =>
  text?.trimStart().startsWith('{') ? parseJsonOrUndefined(text) : undefined;

/**
 * The recipe that a file carries, as it stands there and unchecked: a FITS, TIFF or PNG of ours, or a recipe as a file. Only the parts that may
 * hold it are read.
 * @returns undefined where it carries none, also where the file is broken: whoever opens it for its pixels says how
 */
export async function readEmbeddedRecipe(source: ByteSource): Promise<unknown> {
  if (source.size < 16) return undefined;
  const start = latin1(await source.read(0, 10));
  try {
    if (/^\s*\{/.test(start)) return source.size <= MOST ? asJson(utf8(await source.read(0, source.size))) : undefined;
    if (start.startsWith('\x89PNG')) return asJson(await inPng(source));
    if (/^(II\*\0|MM\0\*)/.test(start)) return asJson(await inTiff(source));
    if (start.startsWith('SIMPLE  =')) return asJson(await inFits(source));
    return undefined;
  } catch {
    return undefined;
  }
}
