import { type FileHandle, open } from 'node:fs/promises';
import { PassThrough, type Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { UserError } from '@owl-loom/base/errors';
import { formatBytes } from '../system/disk-space';
import { watchPace } from './slow-senders';

/** Bytes that are written at a time: a stream comes in crumbs of 64 kB, and each write costs more than its bytes. */
const PIECE = 2 ** 20;

/** What is said of a file that has more bytes than may come in. */
export const tooLarge = (name: string, cap: number): UserError =>
  new UserError(
    'too-large',
    `${name} is larger than the ${formatBytes(cap)} that Owl Loom takes; crop or bin it first.`,
  );

/**
 * Writes what comes in piece by piece, refusing what grows too large. One piece is filled while the other is being written: fresh memory for
 * each would have the whole of it cleared away time and again, on the thread that answers requests.
 */
function piecewise(file: FileHandle, cap: number): Writable {
  let [filling, resting] = [Buffer.allocUnsafeSlow(PIECE), Buffer.allocUnsafeSlow(PIECE)];
  let [size, bytes] = [0, 0];
  let written: Promise<void> = Promise.resolve();
  /** Has the piece written once the one before it is. */
  const write = async (): Promise<void> => {
    await written;
    [filling, resting] = [resting, filling];
    const piece = resting.subarray(0, size);
    size = 0;
    written = file.appendFile(piece);
    // Whoever waits for it next is told.
    written.catch(() => undefined);
  };
  const take = async (chunk: Buffer): Promise<void> => {
    for (let done = 0; done < chunk.length; ) {
      const many = chunk.copy(filling, size, done);
      size += many;
      done += many;
      if (size === PIECE) await write();
    }
  };
  return new Writable({
    highWaterMark: PIECE,
    write(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      if (bytes > cap) done(tooLarge('This file', cap));
      else if (size + chunk.length < PIECE) {
        size += chunk.copy(filling, size);
        done();
      } else take(chunk).then(() => done(), done);
    },
    final(done) {
      write()
        .then(() => written)
        .then(() => done(), done);
    },
    destroy(error, done) {
      // The file may be closed only when nothing is being written to it any more.
      written.then(
        () => done(error),
        () => done(error),
      );
    },
  });
}

/**
 * Takes a stream to disk. Whoever sends it gets an answer whatever becomes of it: a full disk ends the writing and not the request.
 * @param cap bytes beyond which it is refused
 */
export async function writeUpload(body: Readable, path: string, cap = Number.POSITIVE_INFINITY): Promise<void> {
  // A way between, so that a fault of ours ends the writing and not the request: whoever sends it must get an answer.
  const between = new PassThrough();
  const brokenOff = (): void => {
    if (!body.readableEnded) between.destroy(new Error('the sender broke off'));
  };
  const failed = (error: Error): void => {
    between.destroy(error);
  };
  body.once('close', brokenOff);
  // A file that cannot be read says so by an event; without anyone who listens that would end the server.
  body.once('error', failed);
  try {
    const file = await open(path, 'w');
    const enough = watchPace(body, failed);
    try {
      body.pipe(between);
      await pipeline(between, piecewise(file, cap));
    } finally {
      enough();
      await file.close();
    }
  } catch (fault) {
    body.unpipe(between);
    body.resume();
    throw fault;
  } finally {
    body.off('close', brokenOff);
    body.off('error', failed);
  }
}
