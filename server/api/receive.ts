import { createWriteStream } from 'node:fs';
import { PassThrough, type Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { UserError } from '../../core/errors';
import { spokenBytes } from '../system/room';

/** Bytes that are written at a time: a stream comes in crumbs of 64 kB, and each write costs more than its bytes. */
const PIECE = 2 ** 20;

/** What is said of a file that has more bytes than may come in. */
export const tooLarge = (name: string, cap: number): UserError =>
  new UserError(
    'too-large',
    `${name} is larger than the ${spokenBytes(cap)} that Owl Loom takes; crop or bin it first.`,
  );

/** Gathers what comes in into larger pieces, and refuses what grows too large. */
function gathered(cap: number): Transform {
  let bytes = 0;
  let held: Buffer[] = [];
  let size = 0;
  const all = (): Buffer => {
    const piece = Buffer.concat(held);
    held = [];
    size = 0;
    return piece;
  };
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      if (bytes > cap) return done(tooLarge('This file', cap));
      held.push(chunk);
      size += chunk.length;
      if (size < PIECE) done();
      else done(null, all());
    },
    flush(done) {
      if (size > 0) done(null, all());
      else done();
    },
  });
}

/**
 * Takes a stream to disk. Whoever sends it gets an answer whatever becomes of it: a full disk ends the writing and not the request.
 * @param cap bytes beyond which it is refused
 */
export async function receive(body: Readable, path: string, cap = Number.POSITIVE_INFINITY): Promise<void> {
  // A way between, so that a fault of ours ends the writing and not the request: whoever sends it must get an answer.
  const between = new PassThrough();
  const brokenOff = (): void => {
    if (!body.readableEnded) between.destroy(new Error('the sender broke off'));
  };
  const failed = (fault: Error): void => {
    between.destroy(fault);
  };
  body.once('close', brokenOff);
  // A file that cannot be read says so by an event; without anyone who listens that would end the server.
  body.once('error', failed);
  body.pipe(between);
  try {
    await pipeline(between, gathered(cap), createWriteStream(path));
  } catch (fault) {
    body.unpipe(between);
    body.resume();
    throw fault;
  } finally {
    body.off('close', brokenOff);
    body.off('error', failed);
  }
}
