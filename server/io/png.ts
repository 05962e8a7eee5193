import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { srgbProfile } from './icc';
import { type Picture, toSamples } from './picture';

// Node 20.15 brought zlib.crc32, which the types of that line do not know everywhere.
const crc = crc32 as (data: Uint8Array) => number;

/** An iCCP chunk (PNG 3rd edition §11.3.2.3). */
function profileChunk(planes: 1 | 3): Buffer {
  const body = Buffer.concat([Buffer.from('iCCPsRGB\0\0', 'latin1'), deflateSync(srgbProfile(planes))]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(body.length - 4, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), out.length - 4);
  return out;
}

/** End of the signature and IHDR: where the profile belongs. */
const AFTER_IHDR = 33;

/**
 * A PNG of 8 or 16 bits a sample. The profile is put in afterwards, since the codec would otherwise convert the samples to it.
 */
export async function encodePng(picture: Picture, depth: 8 | 16): Promise<Buffer> {
  const { width, height, planes } = picture;
  const channels = planes.length as 1 | 3;
  const size = width * height * channels;
  const raw = { raw: { width, height, channels } };
  const grey = channels === 1;
  const plain =
    depth === 16
      ? sharp(toSamples(picture, 65535, new Uint16Array(size)), raw).toColourspace(grey ? 'grey16' : 'rgb16')
      : sharp(toSamples(picture, 255, new Uint8Array(size)), raw).toColourspace(grey ? 'b-w' : 'srgb');
  const bytes = await plain.png({ compressionLevel: 6, adaptiveFiltering: true }).toBuffer();
  if (!picture.stretched) return bytes;
  return Buffer.concat([bytes.subarray(0, AFTER_IHDR), profileChunk(channels), bytes.subarray(AFTER_IHDR)]);
}
