import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { crc32 } from 'node:zlib';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Entry, type ZipFile, open } from 'yauzl';
import { UserError } from '../../core/errors';
import { jsonIn } from '../../core/json';
import { type ArchivedFile, MANIFEST, MANIFEST_SUM, type Manifest, filesOf, parseManifest } from './manifest';

/** Bytes that a manifest, and any other JSON or picture, may have: more is none that we have written. */
const MOST = { manifest: 256 * 2 ** 20, small: 64 * 2 ** 20 } as const;
/** Bytes of the file with the manifest's sum, at most. */
const SUM_BYTES = 1024;
/** Entries that a zip may have. */
const MANY = 200_000;

/** An archive that has been opened: its manifest, and its files by their names. */
export interface OpenArchive {
  readonly manifest: Manifest;
  /** A file as bytes. */
  bytes(file: ArchivedFile): Promise<Buffer>;
  /** Writes a file to disk. */
  extract(file: ArchivedFile, to: string, signal: AbortSignal): Promise<void>;
  close(): void;
}

/** Reads the list of a zip's entries. Names that climb out of a folder are refused by the reader itself. */
function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, Entry>();
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry);
      if (entries.size > MANY) reject(new UserError('bad-archive', 'This archive holds far more than any of ours.'));
      else zip.readEntry();
    });
    zip.once('end', () => resolve(entries));
    zip.once('error', reject);
    zip.readEntry();
  });
}

const opened = (path: string): Promise<ZipFile> =>
  new Promise((resolve, reject) => {
    open(path, { lazyEntries: true, autoClose: false, strictFileNames: true }, (fault, zip) =>
      zip ? resolve(zip) : reject(fault ?? new Error('no zip')),
    );
  });

const streamOf = (zip: ZipFile, entry: Entry): Promise<Readable> =>
  new Promise((resolve, reject) => {
    zip.openReadStream(entry, (fault, stream) => (stream ? resolve(stream) : reject(fault)));
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

const damaged = (entry: string, called: string): UserError =>
  new UserError(
    'damaged-archive',
    `${called} is damaged: ${entry} is not what was put in. Nothing of it was brought in; use another copy of it.`,
  );

/** Ends a stream that gives another number of bytes, or other bytes, than was said of it. */
function held({ entry, bytes, sha256 }: ArchivedFile, called: string): Transform {
  const sum = createHash('sha256');
  let count = 0;
  const fault = () => damaged(entry, called);
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      count += chunk.length;
      if (count > bytes) return done(fault());
      sum.update(chunk);
      done(null, chunk);
    },
    flush(done) {
      done(count === bytes && sum.digest('hex') === sha256 ? null : fault());
    },
  });
}

/** A sentence for what the reader of zips says. */
function zipFault(fault: unknown, called: string): unknown {
  if (fault instanceof UserError) return fault;
  const { message: says, code } = fault as NodeJS.ErrnoException;
  if (/invalid relative path|absolute path|invalid characters/.test(says))
    return new UserError(
      'bad-archive',
      `${called} holds names that lead out of its own folder, so nothing of it was brought in; it was not made by Owl Loom.`,
    );
  // What a file says has no code where the reader of zips finds fault with it; the disk's own faults have others.
  if (code === undefined || code.startsWith('Z_') || code === 'ERR_OUT_OF_RANGE')
    return new UserError(
      'damaged-archive',
      `${called} is cut off or is no zip; nothing of it was brought in. Copy it again, whole.`,
    );
  return fault;
}

/**
 * Opens an archive and checks that it holds what it says; no file is read yet but the manifest.
 * @param called its name in sentences
 * @throws UserError where it is no archive of ours, or cut off
 */
export async function openArchive(path: string, called: string): Promise<OpenArchive> {
  const inWords = async <T>(work: () => Promise<T>): Promise<T> => {
    try {
      return await work();
    } catch (fault) {
      throw zipFault(fault, called);
    }
  };
  const zip = await inWords(() => opened(path));
  try {
    const entries = await inWords(() => entriesOf(zip));
    const entryOf = (name: string, most: number): Entry => {
      const entry = entries.get(name);
      if (!entry)
        throw name === MANIFEST
          ? new UserError('not-archive', `${called} is no archive of Owl Loom; give one that ./loom archive has made.`)
          : new UserError(
              'damaged-archive',
              `${called} lacks ${name}, which it says it holds; use another copy of it.`,
            );
      if (entry.uncompressedSize > most)
        throw new UserError(
          'bad-archive',
          `${called} holds a ${name} that is far too large; it was not made by Owl Loom.`,
        );
      return entry;
    };
    const whole = async (name: string, most: number, through?: Transform): Promise<Buffer> => {
      const pieces: Buffer[] = [];
      const found = entryOf(name, most);
      const stream = await streamOf(zip, found);
      const collect = async (from: AsyncIterable<Buffer>): Promise<void> => {
        let count = 0;
        for await (const piece of from) {
          count += piece.length;
          if (count > most) throw new UserError('bad-archive', `${called} holds a ${name} that is far too large.`);
          pieces.push(piece);
        }
      };
      if (through) await pipeline(stream, asZipped(found, called), through, collect);
      else await pipeline(stream, asZipped(found, called), collect);
      return Buffer.concat(pieces);
    };
    const text = await inWords(() => whole(MANIFEST, MOST.manifest));
    // Archives of earlier versions have no sum of it beside their zip's own.
    const sum =
      entries.has(MANIFEST_SUM) && (await inWords(() => whole(MANIFEST_SUM, SUM_BYTES))).toString('ascii').trim();
    if (sum !== false && sum !== createHash('sha256').update(text).digest('hex')) throw damaged(MANIFEST, called);
    const manifest = parseManifest(jsonIn(text.toString('utf8')), called);
    for (const file of filesOf(manifest)) {
      const original = file.entry.startsWith('originals/');
      const { uncompressedSize } = entryOf(file.entry, original ? Number.MAX_SAFE_INTEGER : MOST.small);
      if (uncompressedSize !== file.bytes)
        throw new UserError('damaged-archive', `${called} is damaged: ${file.entry} has another size than is said.`);
    }
    return {
      manifest,
      bytes: (file) => inWords(() => whole(file.entry, MOST.small, held(file, called))),
      extract: (file, to, signal) =>
        inWords(async () => {
          const found = entryOf(file.entry, Number.MAX_SAFE_INTEGER);
          const stream = await streamOf(zip, found);
          await pipeline(stream, asZipped(found, called), held(file, called), createWriteStream(to), { signal });
        }),
      close: () => zip.close(),
    };
  } catch (fault) {
    zip.close();
    throw fault;
  }
}
