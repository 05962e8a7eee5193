import { randomUUID } from 'node:crypto';
import { accessSync, closeSync, constants, openSync, readSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Sharp } from 'sharp';
import { UserError } from '@owl-loom/base/errors';
import { requireDiskSpace } from '../system/disk-space';

type Samples =
  | Uint8Array
  | Int8Array
  | Uint16Array
  | Int16Array
  | Uint32Array
  | Int32Array
  | Float32Array
  | Float64Array;

/** Arrays that hold what the codec's own file says its samples are, by its number for them. */
const ARRAYS: Readonly<Record<number, (bytes: ArrayBuffer) => Samples>> = {
  0: (b) => new Uint8Array(b),
  1: (b) => new Int8Array(b),
  2: (b) => new Uint16Array(b),
  3: (b) => new Int16Array(b),
  4: (b) => new Uint32Array(b),
  5: (b) => new Int32Array(b),
  6: (b) => new Float32Array(b),
  8: (b) => new Float64Array(b),
};

/** Bytes before the samples in the codec's own file: their size, how many a pixel has, what they are. */
const HEADER = 64;
const AT = { magic: 0, width: 4, height: 8, bands: 12, format: 20 } as const;
/** Its first word where numbers stand in it as this machine writes them. */
const MAGIC = 0x08f2a6b6;

/** A picture's samples in a file without a name, rows from the top down, those of a pixel side by side. */
export interface RawFile {
  readonly width: number;
  readonly height: number;
  /** Samples of a pixel. */
  readonly bands: number;
  /** Rows from the top, `from` being the first. */
  rows(from: number, count: number): Samples;
  close(): void;
}

const writable = (folder: string): boolean => {
  try {
    accessSync(folder, constants.W_OK);
    return true;
  } catch {
    return false;
  }
};

function filled(file: number, length: number, position: number): ArrayBuffer {
  const out = new Uint8Array(length);
  for (let done = 0; done < length; ) {
    const read = readSync(file, out, done, length - done, position + done);
    if (read === 0) throw new RangeError('the samples end too soon');
    done += read;
  }
  return out.buffer;
}

/**
 * Has the codec write a picture's samples to a file, strip by strip: in memory they would be as large as the picture.
 * @param near folder beside which there is room; the system's own for such files where that cannot be written
 * @param bytes that the samples take
 * @throws UserError where the disk has no room
 */
export async function rawFile(picture: Sharp, near: string, bytes: number, name: string): Promise<RawFile> {
  const folder = writable(near) ? near : tmpdir();
  await requireDiskSpace(folder, bytes, `Reading ${name}`);
  const path = join(folder, `.${randomUUID()}.v`);
  let file: number;
  try {
    await picture.toFile(path);
    file = openSync(path, 'r');
  } finally {
    // Open, it lives on without a name, and goes with whoever holds it.
    rmSync(path, { force: true });
  }
  const head = new DataView(filled(file, HEADER, 0));
  const at = (offset: number): number => head.getInt32(offset, true);
  const array = ARRAYS[at(AT.format)];
  const known = { width: at(AT.width), height: at(AT.height), bands: at(AT.bands) };
  if (at(AT.magic) !== MAGIC || !array) {
    closeSync(file);
    throw new UserError('picture-broken', `${name} cannot be read by this machine's codec; save it in another form.`);
  }
  const rowBytes = known.width * known.bands * array(new ArrayBuffer(8)).BYTES_PER_ELEMENT;
  return {
    ...known,
    rows: (from, count) => array(filled(file, count * rowBytes, HEADER + from * rowBytes)),
    close: () => closeSync(file),
  };
}
