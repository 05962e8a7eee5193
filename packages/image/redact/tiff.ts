import type { ByteSource } from '../fits/bytes';
import type { Edit } from './edit';

/**
 * Tags of text, and of data that a camera or a program adds (TIFF 6.0 §8, its supplements, Exif 2.32): DocumentName, ImageDescription, Make, Model,
 * PageName, Software, DateTime, Artist, HostComputer, XMP, Copyright, IPTC, image resources, Exif, GPS, and a serial number or owner in DNG.
 */
const TEXT = new Set([
  269, 270, 271, 272, 285, 305, 306, 315, 316, 700, 33432, 33723, 34377, 34665, 34853, 50735, 50827,
]);
/** Of these, those that point to a directory of their own. */
const DIRECTORIES = new Set([34665, 34853]);
/** Bytes of a value, by type; those of BigTIFF from 16. */
const WIDTHS: Record<number, number> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
  13: 4,
  16: 8,
  17: 8,
  18: 8,
};
/** Directories that a file may chain. */
const MAX_DIRECTORIES = 1000;
const MAX_ENTRIES = 65_536;

/** How numbers lie in a file: TIFF has offsets of four bytes, BigTIFF of eight. */
interface Layout {
  readonly little: boolean;
  readonly big: boolean;
}

interface Entry {
  readonly tag: number;
  /** The bytes of the entry as they are. */
  readonly bytes: Uint8Array;
  /** Where its value lies; undefined where it lies in the entry. */
  readonly value?: { readonly at: number; readonly length: number };
  /** The value as an offset. */
  readonly offset: number;
}

interface Directory {
  readonly at: number;
  readonly entries: readonly Entry[];
  /** Offset of the next one, as bytes. */
  readonly tail: Uint8Array;
  readonly next: number;
}

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.length);

function offsetOf(bytes: Uint8Array, { little, big }: Layout): number {
  return big ? Number(viewOf(bytes).getBigUint64(0, little)) : viewOf(bytes).getUint32(0, little);
}

async function readDirectory(source: ByteSource, at: number, layout: Layout): Promise<Directory | undefined> {
  const { little, big } = layout;
  const [countBytes, entryBytes, offsetBytes] = big ? [8, 20, 8] : [2, 12, 4];
  if (at <= 0 || at + countBytes > source.size) return undefined;
  const counted = await source.read(at, countBytes);
  const count = big ? Number(viewOf(counted).getBigUint64(0, little)) : viewOf(counted).getUint16(0, little);
  const end = at + countBytes + count * entryBytes;
  if (count > MAX_ENTRIES || end + offsetBytes > source.size) return undefined;
  const all = await source.read(at + countBytes, count * entryBytes);
  const entries = Array.from({ length: count }, (_, i): Entry => {
    const bytes = all.subarray(i * entryBytes, (i + 1) * entryBytes);
    const view = viewOf(bytes);
    const field = bytes.subarray(entryBytes - offsetBytes);
    const values = big ? Number(view.getBigUint64(4, little)) : view.getUint32(4, little);
    const length = values * (WIDTHS[view.getUint16(2, little)] ?? 1);
    const offset = offsetOf(field, layout);
    const beside = length > offsetBytes && offset + length <= source.size;
    return { tag: view.getUint16(0, little), bytes, offset, ...(beside && { value: { at: offset, length } }) };
  });
  const tail = await source.read(end, offsetBytes);
  return { at, entries, tail, next: offsetOf(tail, layout) };
}

/** Zeros over a directory that something else pointed to, and over what it points to. */
function emptied({ at, entries, tail }: Directory, { big }: Layout): Edit[] {
  const length = (big ? 8 : 2) + entries.reduce((sum, { bytes }) => sum + bytes.length, 0) + tail.length;
  return [{ at, zeros: length }, ...entries.flatMap(valueEmptied)];
}

const valueEmptied = ({ value }: Entry): Edit[] => (value ? [{ at: value.at, zeros: value.length }] : []);

/** A directory as it is with fewer entries: the rest moves up, and the room that is left is zero. */
function shortened({ at, entries, tail }: Directory, kept: readonly Entry[], { little, big }: Layout): Edit {
  const counted = big ? 8 : 2;
  const bytes = new Uint8Array(counted + entries.length * (entries[0]?.bytes.length ?? 0) + tail.length);
  if (big) viewOf(bytes).setBigUint64(0, BigInt(kept.length), little);
  else viewOf(bytes).setUint16(0, kept.length, little);
  let to = counted;
  for (const part of [...kept.map((entry) => entry.bytes), tail]) {
    bytes.set(part, to);
    to += part.length;
  }
  return { at, bytes };
}

/** The edits that take text, camera data and places out of a TIFF or BigTIFF: their entries go, their values become zeros. */
export async function redactTiff(source: ByteSource): Promise<Edit[]> {
  const head = await source.read(0, Math.min(16, source.size));
  const little = head[0] === 0x49;
  const big = viewOf(head).getUint16(2, little) === 43;
  const layout = { little, big };
  const edits: Edit[] = [];
  const seen = new Set<number>();
  for (let at = offsetOf(head.subarray(big ? 8 : 4), layout); seen.size < MAX_DIRECTORIES && !seen.has(at); ) {
    seen.add(at);
    const directory = await readDirectory(source, at, layout);
    if (!directory) break;
    const removed = directory.entries.filter(({ tag }) => TEXT.has(tag));
    for (const entry of removed) {
      const inner = DIRECTORIES.has(entry.tag) ? await readDirectory(source, entry.offset, layout) : undefined;
      edits.push(...valueEmptied(entry), ...(inner ? emptied(inner, layout) : []));
    }
    if (removed.length > 0)
      edits.push(
        shortened(
          directory,
          directory.entries.filter(({ tag }) => !TEXT.has(tag)),
          layout,
        ),
      );
    at = directory.next;
  }
  return edits;
}
