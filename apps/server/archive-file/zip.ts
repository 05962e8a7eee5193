import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { type Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { crc32 } from 'node:zlib';
import { type Entry, type ZipFile, open } from 'yauzl';
import { UserError } from '@owl-loom/base/errors';
import { type ArchivedFile, MANIFEST } from './manifest';

/** Entries that a zip may have. */
const MANY = 200_000;

/** Reads the list of a zip's entries. Names that climb out of a folder are refused by the reader itself. */
function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, Entry>();
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry);
      if (entries.size > MANY)
        reject(new UserError('bad-archive', 'This archive has far too many files. Nothing was imported.'));
      else zip.readEntry();
    });
    zip.once('end', () => resolve(entries));
    zip.once('error', reject);
    zip.readEntry();
  });
}

const opened = (path: string): Promise<ZipFile> =>
  new Promise((resolve, reject) => {
    open(path, { lazyEntries: true, autoClose: false, strictFileNames: true }, (error, zip) =>
      zip ? resolve(zip) : reject(error ?? new Error('no zip')),
    );
  });

/** Ends a stream whose bytes have another CRC-32 than the zip says of them: its reader does not compare that itself. */
function asZipped({ fileName, crc32: said }: Entry, called: string): Transform {
  let sum = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      sum = crc32(chunk, sum);
      done(null, chunk);
    },
    flush(done) {
      done(sum >>> 0 === said >>> 0 ? null : damaged(fileName, called));
    },
  });
}

export const damaged = (entry: string, called: string): UserError =>
  new UserError('damaged-archive', `${called} is damaged (${entry}). Nothing was imported; use another copy.`);

/** Ends a stream that gives another number of bytes, or other bytes, than was said of it. */
function verifyStream({ entry, bytes, sha256 }: ArchivedFile, called: string): Transform {
  const sum = createHash('sha256');
  let count = 0;
  const error = () => damaged(entry, called);
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      count += chunk.length;
      if (count > bytes) return done(error());
      sum.update(chunk);
      done(null, chunk);
    },
    flush(done) {
      done(count === bytes && sum.digest('hex') === sha256 ? null : error());
    },
  });
}

/** A sentence for what the reader of zips says. */
function zipFault(error: unknown, called: string): unknown {
  if (error instanceof UserError) return error;
  const { message: says, code } = error as NodeJS.ErrnoException;
  if (/invalid relative path|absolute path|invalid characters/.test(says))
    return new UserError(
      'bad-archive',
      `${called} has unsafe file names: nothing was imported. It was not made by Owl Loom.`,
    );
  // What a file says has no code where the reader of zips finds fault with it; the disk's own faults have others.
  if (code === undefined || code.startsWith('Z_') || code === 'ERR_OUT_OF_RANGE')
    return new UserError(
      'damaged-archive',
      `${called} is not a complete zip file: nothing was imported. Copy it again.`,
    );
  return error;
}

/** A zip whose files are read by their names, each compared with what the zip says of it. */
export class Zip {
  private constructor(
    private readonly zip: ZipFile,
    private readonly entries: ReadonlyMap<string, Entry>,
    private readonly called: string,
  ) {}

  /**
   * @param called its name in sentences
   * @throws UserError where it is none, or cut off
   */
  static async open(path: string, called: string): Promise<Zip> {
    try {
      const zip = await opened(path);
      try {
        return new Zip(zip, await entriesOf(zip), called);
      } catch (error) {
        zip.close();
        throw error;
      }
    } catch (fault) {
      throw zipFault(fault, called);
    }
  }

  has(name: string): boolean {
    return this.entries.has(name);
  }

  private entry(name: string, max: number): Entry {
    const { called } = this;
    const entry = this.entries.get(name);
    if (!entry)
      throw name === MANIFEST
        ? new UserError('not-archive', `${called} is not an Owl Loom archive. Use one made by ./loom archive.`)
        : new UserError(
            'damaged-archive',
            `${called} is damaged (${name} is missing). Nothing was imported; use another copy.`,
          );
    if (entry.uncompressedSize > max)
      throw new UserError(
        'bad-archive',
        `${called} holds a ${name} that is far too large; it was not made by Owl Loom.`,
      );
    return entry;
  }

  /** Bytes that the zip says a file has. */
  sizeOf(name: string, max: number): number {
    return this.entry(name, max).uncompressedSize;
  }

  private stream(entry: Entry): Promise<Readable> {
    return new Promise((resolve, reject) => {
      this.zip.openReadStream(entry, (error, stream) => (stream ? resolve(stream) : reject(error)));
    });
  }

  /**
   * A file in memory.
   * @param max bytes that it may have
   * @param declared what else is said of it, to be compared
   */
  async bytes(name: string, max: number, declared?: ArchivedFile): Promise<Buffer> {
    const pieces: Buffer[] = [];
    const collect = async (from: AsyncIterable<Buffer>): Promise<void> => {
      let count = 0;
      for await (const piece of from) {
        count += piece.length;
        if (count > max) throw new UserError('bad-archive', `${this.called} holds a ${name} that is far too large.`);
        pieces.push(piece);
      }
    };
    try {
      const entry = this.entry(name, max);
      const stream = await this.stream(entry);
      if (declared) await pipeline(stream, asZipped(entry, this.called), verifyStream(declared, this.called), collect);
      else await pipeline(stream, asZipped(entry, this.called), collect);
    } catch (error) {
      throw zipFault(error, this.called);
    }
    return Buffer.concat(pieces);
  }

  /** Writes a file to disk. */
  async extract(file: ArchivedFile, to: string, signal: AbortSignal): Promise<void> {
    try {
      const entry = this.entry(file.entry, Number.MAX_SAFE_INTEGER);
      const stream = await this.stream(entry);
      await pipeline(stream, asZipped(entry, this.called), verifyStream(file, this.called), createWriteStream(to), {
        signal,
      });
    } catch (error) {
      throw zipFault(error, this.called);
    }
  }

  close(): void {
    this.zip.close();
  }
}
