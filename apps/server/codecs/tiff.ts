import { iccProfile } from './icc';
import { channelsOf, type Picture, profileOf, toSamples } from './picture';
import { SOFTWARE, type EmbeddedText, xmpOf } from './embedded-text';

const BYTE = 1;
const ASCII = 2;
const SHORT = 3;
const LONG = 4;
const RATIONAL = 5;
const UNDEFINED = 7;

interface Field {
  readonly tag: number;
  readonly type: number;
  readonly values: readonly number[] | Buffer;
}

/** Interleaved float samples from the top down, as they are; no data is black. */
function floats(picture: Picture): Float32Array {
  const { width, height, planes } = picture;
  const n = planes.length;
  const out = new Float32Array(width * height * n);
  planes.forEach((plane, p) => {
    for (let y = 0; y < height; y++) {
      let at = (height - 1 - y) * width * n + p;
      for (let i = y * width; i < (y + 1) * width; i++, at += n) out[at] = Number.isNaN(plane[i]) ? 0 : plane[i];
    }
  });
  return out;
}

function fieldBytes(field: Field): Buffer {
  if (Buffer.isBuffer(field.values)) return field.values;
  const width = field.type === SHORT ? 2 : 4;
  const out = Buffer.alloc(field.values.length * width);
  field.values.forEach((value, i) => (width === 2 ? out.writeUInt16LE(value, 2 * i) : out.writeUInt32LE(value, 4 * i)));
  return out;
}

/** Text fields end in a zero; the recipe is the description, since that is the field that every reader shows. */
function wordFields(words: EmbeddedText): Field[] {
  const texts = { 269: words.title, 270: words.recipe ?? words.caption, 305: SOFTWARE, 315: words.credits };
  const packet = xmpOf(words);
  return [
    ...Object.entries(texts).flatMap(([tag, text]) =>
      text ? [{ tag: Number(tag), type: ASCII, values: Buffer.from(`${text.replaceAll('\0', '')}\0`, 'utf8') }] : [],
    ),
    ...(packet ? [{ tag: 700, type: BYTE, values: packet }] : []),
  ];
}

/**
 * A TIFF 6.0 file, little-endian, uncompressed, in one strip: 16-bit integer or 32-bit float samples.
 * Written here and not by a codec so that every sample is the very number that was computed.
 */
export function encodeTiff(picture: Picture, depth: 16 | 32, words: EmbeddedText = {}): Buffer[] {
  const { width, height } = picture;
  const n = channelsOf(picture);
  const samples = depth === 16 ? toSamples(picture, 65535, new Uint16Array(width * height * n)) : floats(picture);
  const data = Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
  const dataOffset = 8;
  const profile = profileOf(picture);
  const all = (value: number) => new Array<number>(n).fill(value);
  const fields: Field[] = [
    { tag: 256, type: LONG, values: [width] },
    { tag: 257, type: LONG, values: [height] },
    { tag: 258, type: SHORT, values: all(depth) },
    { tag: 259, type: SHORT, values: [1] },
    { tag: 262, type: SHORT, values: [n === 3 ? 2 : 1] },
    { tag: 273, type: LONG, values: [dataOffset] },
    { tag: 274, type: SHORT, values: [1] },
    { tag: 277, type: SHORT, values: [n] },
    { tag: 278, type: LONG, values: [height] },
    { tag: 279, type: LONG, values: [data.length] },
    { tag: 282, type: RATIONAL, values: [72, 1] },
    { tag: 283, type: RATIONAL, values: [72, 1] },
    { tag: 284, type: SHORT, values: [1] },
    { tag: 296, type: SHORT, values: [2] },
    { tag: 339, type: SHORT, values: all(depth === 32 ? 3 : 1) },
    ...(profile ? [{ tag: 34675, type: UNDEFINED, values: iccProfile(profile, n) }] : []),
    ...wordFields(words),
  ].sort((a, b) => a.tag - b.tag);
  const header = Buffer.alloc(8);
  header.write('II*\0', 0, 'latin1');
  const ifdOffset = dataOffset + Math.ceil(data.length / 2) * 2;
  header.writeUInt32LE(ifdOffset, 4);
  const ifd = Buffer.alloc(2 + 12 * fields.length + 4);
  ifd.writeUInt16LE(fields.length, 0);
  const extra: Buffer[] = [];
  let extraOffset = ifdOffset + ifd.length;
  fields.forEach((field, i) => {
    const at = 2 + 12 * i;
    const bytes = fieldBytes(field);
    const unit = field.type === SHORT ? 2 : field.type === LONG ? 4 : field.type === RATIONAL ? 8 : 1;
    ifd.writeUInt16LE(field.tag, at);
    ifd.writeUInt16LE(field.type, at + 2);
    ifd.writeUInt32LE(bytes.length / unit, at + 4);
    if (bytes.length <= 4) bytes.copy(ifd, at + 8);
    else {
      ifd.writeUInt32LE(extraOffset, at + 8);
      const even = Buffer.alloc(Math.ceil(bytes.length / 2) * 2);
      bytes.copy(even);
      extra.push(even);
      extraOffset += even.length;
    }
  });
  return [header, data, Buffer.alloc(data.length % 2), ifd, ...extra];
}
