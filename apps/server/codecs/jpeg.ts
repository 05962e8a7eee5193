import { iccProfile } from './icc';
import type { Profile } from '@owl-loom/api/exports';
import { channelsOf, type Picture, profileOf, toSamples } from './picture';
import { type EmbeddedText, xmpOf } from './embedded-text';

/** A segment of a JPEG: its marker, its length, what it holds. */
function segment(marker: number, ...parts: readonly Buffer[]): Buffer {
  const body = Buffer.concat(parts);
  const head = Buffer.alloc(4);
  head.writeUInt16BE(marker, 0);
  head.writeUInt16BE(2 + body.length, 2);
  return Buffer.concat([head, body]);
}

/** An APP2 segment with an ICC profile (ICC.1:2010 annex B.4). */
const profileSegment = (of: Profile, planes: 1 | 3): Buffer =>
  segment(0xffe2, Buffer.from('ICC_PROFILE\0\x01\x01', 'latin1'), iccProfile(of, planes));

/** Bytes that a segment can hold beside the name of what is in it. */
const MOST = 65_000;

/** An APP1 segment with an XMP packet; nothing where that is too long for one. */
const xmpSegment = (packet: Buffer): Buffer[] =>
  packet.length > MOST ? [] : [segment(0xffe1, Buffer.from('http://ns.adobe.com/xap/1.0/\0', 'latin1'), packet)];

/** Where the segments go: after the start marker and the JFIF segment, where there is one. */
function afterJfif(bytes: Buffer): number {
  return bytes.readUInt16BE(2) === 0xffe0 ? 4 + bytes.readUInt16BE(4) : 2;
}

/**
 * A JPEG without chroma subsampling: stars are small and coloured.
 * @param quality 1 to 100
 */
export async function encodeJpeg(
  picture: Picture,
  { quality = 95, ...words }: EmbeddedText & { quality?: number } = {},
): Promise<Buffer> {
  const { width, height } = picture;
  const channels = channelsOf(picture);
  const samples = toSamples(picture, 255, new Uint8Array(width * height * channels));
  const { default: sharp } = await import('sharp');
  const bytes = await sharp(samples, { raw: { width, height, channels } })
    .toColourspace(channels === 1 ? 'b-w' : 'srgb')
    .jpeg({ quality, chromaSubsampling: '4:4:4' })
    .toBuffer();
  const profile = profileOf(picture);
  const packet = xmpOf(words);
  const at = afterJfif(bytes);
  return Buffer.concat([
    bytes.subarray(0, at),
    ...(packet ? xmpSegment(packet) : []),
    ...(profile ? [profileSegment(profile, channels)] : []),
    bytes.subarray(at),
  ]);
}
