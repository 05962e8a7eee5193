import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';

/** Bytes that a packed file may swell to: more than any stack has, 60 megapixels in three colours of eight bytes among them. */
const MOST_UNPACKED = 4 * 2 ** 30;
/** Unpacked files larger than this must not be so many times as large as they were packed; pictures of the sky come to five or ten. */
const SMALL = 64 * 2 ** 20;
const RATIO = 100;
/** Bytes that are held in memory; what is larger goes to the disk. */
const IN_MEMORY = 192 * 2 ** 20;
/** Bytes of memory that it takes to unpack a file: what is held, and once more while it is put together. */
export const UNPACKING = 2 * IN_MEMORY;
/** Bytes that are unpacked at a time. */
const PIECE = 2 ** 20;

/** What a packed file holds: bytes in memory, or a file that has no name any more and goes when it is closed. */
export type Unpacked =
  | { readonly bytes: Uint8Array<ArrayBuffer> }
  | { readonly handle: FileHandle; readonly size: number };

/** A file without a name, beside another where that can be written, in the system's own folder otherwise. */
async function nameless(path: string): Promise<FileHandle> {
  for (const folder of [dirname(path), tmpdir()]) {
    const own = join(folder, `.${randomUUID()}.part`);
    const handle = await open(own, 'wx+', 0o600).catch(() => undefined);
    if (!handle) continue;
    await rm(own, { force: true });
    return handle;
  }
  throw new UserError('cannot-write', `There is no place to unpack ${path} to; unpack it by hand first.`);
}

/** Gathers what is unpacked: in memory first, on the disk once it is much. */
class SpillBuffer {
  private pieces: Buffer[] = [];
  private handle: FileHandle | undefined;
  size = 0;

  constructor(private readonly path: string) {}

  async add(piece: Buffer): Promise<void> {
    this.size += piece.length;
    this.pieces.push(piece);
    if (!this.handle && this.size <= IN_MEMORY) return;
    this.handle ??= await nameless(this.path);
    for (const held of this.pieces.splice(0)) await this.handle.appendFile(held);
  }

  done(): Unpacked {
    const { handle, size } = this;
    return handle ? { handle, size } : { bytes: new Uint8Array(Buffer.concat(this.pieces)) };
  }

  async drop(): Promise<void> {
    await this.handle?.close();
  }
}

/**
 * Unpacks a gzipped file, as a stream and within bounds, so that a small file cannot take all memory.
 * @param packed its size
 * @throws UserError where it is damaged, or swells beyond what a stack can be
 */
export async function unpack(path: string, packed: number, name: string): Promise<Unpacked> {
  const gathered = new SpillBuffer(path);
  // What ends the stream may be told by the stream in other words.
  let refused: UserError | undefined;
  try {
    await pipeline(
      createReadStream(path),
      createGunzip({ chunkSize: PIECE }),
      async (pieces: AsyncIterable<Buffer>) => {
        for await (const piece of pieces) {
          const size = gathered.size + piece.length;
          if (size > MOST_UNPACKED || (size > SMALL && size > RATIO * packed)) {
            refused = new UserError(
              'gzip-large',
              `${name} unpacks to far more than a stack holds (over ${Math.round(size / 1e6)} MB of ${Math.ceil(packed / 1e6)}); if it is one, unpack it first.`,
            );
            throw refused;
          }
          await gathered.add(piece);
        }
      },
    );
    return gathered.done();
  } catch (error) {
    await gathered.drop();
    if (refused || errorCodeOf(error) === 'ENOSPC') throw refused ?? error;
    throw new UserError(
      'gzip',
      `${name} is gzipped and cannot be unpacked (${error instanceof Error ? error.message : error}); copy the file again, or unpack it first.`,
    );
  }
}
