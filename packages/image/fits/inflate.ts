import { Inflate } from 'pako';

/**
 * Unpacks gzip or zlib data; stops as soon as there is more than was promised, so that a trap cannot fill the memory.
 * @param max bytes that may come out
 * @throws RangeError where the data are damaged or swell beyond that
 */
export function inflateBounded(bytes: Uint8Array, max: number): Uint8Array {
  const inflate = new Inflate({ chunkSize: Math.min(65_536, max + 1) });
  const parts: Uint8Array[] = [];
  let length = 0;
  inflate.onData = (part: Uint8Array) => {
    length += part.length;
    if (length > max) throw new RangeError('a compressed tile is larger than its pixels');
    parts.push(part);
  };
  inflate.push(bytes, true);
  if (inflate.err) throw new RangeError(inflate.msg || 'a compressed tile is damaged');
  const out = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
