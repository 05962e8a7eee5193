import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { iccProfile } from './icc';
import type { Profile } from '@owl-loom/api/exports';
import { channelsOf, type Picture, profileOf, toSamples } from './picture';
import { SOFTWARE, type EmbeddedText } from './embedded-text';

// Node 20.15 brought zlib.crc32, which the types of that line do not know everywhere.
const crc = crc32 as (data: Uint8Array) => number;

/** A chunk: its length, its name, what it holds, and the sum of the last two (PNG 3rd edition §5.3). */
function chunk(name: string, ...parts: readonly Buffer[]): Buffer {
  const body = Buffer.concat([Buffer.from(name, 'latin1'), ...parts]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(body.length - 4, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), out.length - 4);
  return out;
}

/** An iCCP chunk (§11.3.2.3). */
const profileChunk = (of: Profile, planes: 1 | 3): Buffer =>
  chunk('iCCP', Buffer.from(`${PROFILE_NAMES[of]}\0\0`, 'latin1'), deflateSync(iccProfile(of, planes)));

const PROFILE_NAMES: Readonly<Record<Profile, string>> = { srgb: 'sRGB', p3: 'Display P3', linear: 'Linear' };

/** An iTXt chunk (§11.3.3.4): text in UTF-8, as it is. */
const textChunk = (keyword: string, text: string): Buffer =>
  chunk('iTXt', Buffer.from(`${keyword}\0\0\0\0\0`, 'latin1'), Buffer.from(text.replaceAll('\0', ''), 'utf8'));

/** The words of a picture under the keywords that the standard gives for them; the recipe under a name of its own. */
function textChunks({ title, credits, caption, recipe }: EmbeddedText): Buffer[] {
  const texts = { Title: title, Author: credits, Description: caption, Software: SOFTWARE, Recipe: recipe };
  return Object.entries(texts).flatMap(([keyword, text]) => (text ? [textChunk(keyword, text)] : []));
}

/** End of the signature and IHDR: where the profile belongs. */
const AFTER_IHDR = 33;

/**
 * A PNG of 8 or 16 bits a sample. The profile is put in afterwards, since the codec would otherwise convert the samples to it.
 */
export async function encodePng(picture: Picture, depth: 8 | 16, words: EmbeddedText = {}): Promise<Buffer> {
  const { width, height } = picture;
  const channels = channelsOf(picture);
  const size = width * height * channels;
  const raw = { raw: { width, height, channels } };
  const grey = channels === 1;
  const plain =
    depth === 16
      ? sharp(toSamples(picture, 65535, new Uint16Array(size)), raw).toColourspace(grey ? 'grey16' : 'rgb16')
      : sharp(toSamples(picture, 255, new Uint8Array(size)), raw).toColourspace(grey ? 'b-w' : 'srgb');
  const bytes = await plain.png({ compressionLevel: 6, adaptiveFiltering: true }).toBuffer();
  const profile = profileOf(picture);
  return Buffer.concat([
    bytes.subarray(0, AFTER_IHDR),
    ...(profile ? [profileChunk(profile, channels)] : []),
    ...textChunks(words),
    bytes.subarray(AFTER_IHDR),
  ]);
}
