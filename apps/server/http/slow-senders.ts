import type { Readable } from 'node:stream';
import type { RequestHandler } from 'express';
import { UserError } from '@owl-loom/base/errors';

/** How long a request may take to come in that is no file, ms. */
const WHOLE = 60_000;

/** Files that come in more slowly than this are ended: bytes a second, over the time in which it is looked at, ms. */
const PACE = { bytes: 10_000, every: 30_000 } as const;

/** Ends requests whose body does not come: each holds a connection for as long. */
export const wholeSoon = (within = WHOLE): RequestHandler => {
  return (request, response, next) => {
    const late = setTimeout(() => {
      if (request.complete || response.headersSent) return;
      response.set('Connection', 'close');
      next(new UserError('too-slow', 'The request was interrupted. Send it again.'));
      // Who sends nothing more cannot be waited for.
      response.once('finish', () => request.destroy());
    }, within).unref();
    response.once('close', () => clearTimeout(late));
    request.once('end', () => clearTimeout(late));
    next();
  };
};

/**
 * Watches the pace of what comes in.
 * @param slow what to do where it is too slow
 * @returns ends the watching
 */
export function watchPace(body: Readable, slow: (error: UserError) => void, { bytes, every } = PACE): () => void {
  let came = 0;
  const count = (chunk: Buffer): void => {
    came += chunk.length;
  };
  body.on('data', count);
  const timer = setInterval(() => {
    // A sender that waits for us, since the disk is slow, is not slow itself.
    if (came * 1000 < bytes * every && !body.isPaused())
      slow(new UserError('too-slow', 'Upload too slow: given up. Send the file again over a faster connection.'));
    came = 0;
  }, every);
  return () => {
    clearInterval(timer);
    body.off('data', count);
  };
}
