import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import { basename } from 'node:path';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import { type ByteSource, memorySource } from '@owl-loom/image/fits/bytes';
import { unpack } from './gunzip';

/** A byte source over an open file; close it when done. */
export interface FileSource extends ByteSource {
  /** Whether it is a gzipped file that was unpacked. */
  readonly packed: boolean;
  /** Where the system finds what it reads; undefined where that is in memory. */
  readonly path?: string;
  close(): Promise<void>;
}

/** What the system says of a file that will not open, in words. */
function openingFault(path: string, error: unknown): UserError {
  const code = errorCodeOf(error);
  const name = basename(path);
  if (code === 'ENOENT') return new UserError('no-file', `There is no file ${path}; check the path.`);
  if (code === 'EISDIR') return new UserError('no-file', `${path} is a folder; name a file.`);
  if (code === 'EACCES') return new UserError('no-access', `${name} may not be read; change its permissions.`);
  return new UserError('no-file', `${name} cannot be opened (${code ?? error}).`);
}

/** Bytes of one request to the system. Node ends the whole process where one asks for 2 GB or more. */
const MOST_AT_ONCE = 1 << 30;

/**
 * Random access to an open file. What a damaged file asks for beyond its own end is refused before memory is taken for it.
 * Whoever opens a file has nothing else to do until it is read: worker threads and commands. They wait for the system themselves, since the
 * threads that would wait for them go by a lock which the thread that answers requests goes by as well.
 */
const sourceOver = (file: number, name: string, size: number): Omit<FileSource, 'packed' | 'path' | 'close'> => ({
  name,
  size,
  async read(offset, length) {
    if (!(offset >= 0 && length >= 0 && offset + length <= size)) throw new RangeError(`read past the end of ${name}`);
    const out = new Uint8Array(length);
    let done = 0;
    while (done < length) {
      const piece = Math.min(length - done, MOST_AT_ONCE);
      const read = readSync(file, out, done, piece, offset + done);
      if (read === 0) throw new RangeError(`read past the end of ${name}`);
      done += read;
    }
    return out;
  },
});

/**
 * Opens a file for random access. A gzipped one (by its first two bytes, whatever its name) is unpacked within bounds.
 * @throws UserError where it cannot be opened or unpacked
 */
export async function openFile(path: string, name = basename(path)): Promise<FileSource> {
  const file = opened(path);
  const close = async (): Promise<void> => closeSync(file);
  try {
    const found = fstatSync(file);
    if (found.isDirectory()) throw new UserError('no-file', `${path} is a folder; name a file.`);
    const { size } = found;
    const plain = sourceOver(file, name, size);
    const magic = size >= 2 ? await plain.read(0, 2) : new Uint8Array(2);
    if (magic[0] !== 0x1f || magic[1] !== 0x8b) return { ...plain, packed: false, path, close };
    const unpacked = await unpack(path, size, name);
    await close();
    if ('bytes' in unpacked)
      return { ...memorySource(name, unpacked.bytes), packed: true, close: async () => undefined };
    const { handle } = unpacked;
    const own = `/proc/self/fd/${handle.fd}`;
    return { ...sourceOver(handle.fd, name, unpacked.size), packed: true, path: own, close: () => handle.close() };
  } catch (error) {
    await close();
    throw error;
  }
}

/** Whether a file is gzipped, by its first two bytes. */
export function isPacked(path: string): boolean {
  const file = opened(path);
  try {
    const head = new Uint8Array(2);
    return readSync(file, head, 0, 2, 0) === 2 && head[0] === 0x1f && head[1] === 0x8b;
  } finally {
    closeSync(file);
  }
}

function opened(path: string): number {
  try {
    return openSync(path, 'r');
  } catch (error) {
    throw openingFault(path, error);
  }
}
