import { crc32 } from 'node:zlib';
import { type ByteSource, asciiBytes } from '@owl-loom/image/fits/bytes';
import type { Edit } from '@owl-loom/image/redact/edit';

/** Chunks of text and of a camera's data (PNG 3rd edition §11.3.3, §11.3.4.4); they may hold anything. */
const TEXT = new Set(['tEXt', 'zTXt', 'iTXt', 'eXIf']);

/** A private, ancillary chunk that readers skip. */
const SKIPPED = 'viDe';

/** The edits that empty the text of a PNG: each chunk of text becomes one of zeros that readers skip. */
export async function redactPng(source: ByteSource): Promise<Edit[]> {
  const edits: Edit[] = [];
  // Length, type, data, CRC.
  for (let at = 8; at + 12 <= source.size; ) {
    const head = await source.read(at, 8);
    const length = new DataView(head.buffer, head.byteOffset).getUint32(0);
    if (at + 12 + length > source.size) return edits;
    if (TEXT.has(String.fromCharCode(...head.subarray(4)))) {
      const bytes = new Uint8Array(length + 8);
      bytes.set(asciiBytes(SKIPPED));
      new DataView(bytes.buffer).setUint32(length + 4, crc32(bytes.subarray(0, length + 4)));
      edits.push({ at: at + 4, bytes });
    }
    at += 12 + length;
  }
  return edits;
}
