import { srgbProfile } from './icc';
import { type Picture, toSamples } from './picture';

/** An APP2 segment with an ICC profile (ICC.1:2010 annex B.4). */
function profileSegment(planes: 1 | 3): Buffer {
  const icc = srgbProfile(planes);
  const head = Buffer.alloc(4 + 14);
  head.writeUInt16BE(0xffe2, 0);
  head.writeUInt16BE(2 + 14 + icc.length, 2);
  head.write('ICC_PROFILE\0', 4, 'latin1');
  head[16] = 1;
  head[17] = 1;
  return Buffer.concat([head, icc]);
}

/** Where the segment goes: after the start marker and the JFIF segment, where there is one. */
function afterJfif(bytes: Buffer): number {
  return bytes.readUInt16BE(2) === 0xffe0 ? 4 + bytes.readUInt16BE(4) : 2;
}

/** A JPEG of quality 95 without chroma subsampling: stars are small and coloured. */
export async function encodeJpeg(picture: Picture): Promise<Buffer> {
  const { width, height, planes } = picture;
  const channels = planes.length as 1 | 3;
  const samples = toSamples(picture, 255, new Uint8Array(width * height * channels));
  const { default: sharp } = await import('sharp');
  const bytes = await sharp(samples, { raw: { width, height, channels } })
    .toColourspace(channels === 1 ? 'b-w' : 'srgb')
    .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
    .toBuffer();
  if (!picture.stretched) return bytes;
  const at = afterJfif(bytes);
  return Buffer.concat([bytes.subarray(0, at), profileSegment(channels), bytes.subarray(at)]);
}
