import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { ErrorBody } from '@owl-loom/api/wire';
import { UserError, userMessageOf } from '@owl-loom/base/errors';
import { firstIssue, exceedsDepth } from '@owl-loom/base/validation-errors';
import { translateSystemError } from '../system/system-errors';

const STATUS: Record<string, number> = {
  'no-target': 404,
  'no-stack': 404,
  'no-recipe': 404,
  'no-swatch': 404,
  'no-state': 404,
  'no-file': 404,
  'no-job': 404,
  'no-pixels': 404,
  'not-found': 404,
  'not-in-trash': 404,
  'no-archive': 404,
  'no-palette': 404,
  'in-trash': 410,
  conflict: 409,
  'name-taken': 409,
  'in-use': 409,
  'too-large': 413,
  'recipe-large': 413,
  'too-slow': 408,
  'bad-request-line': 400,
  'no-session': 401,
  'wrong-password': 401,
  'too-many': 429,
  'not-allowed': 403,
  'foreign-host': 403,
  'foreign-origin': 403,
  'database-gone': 503,
  'pixels-mending': 503,
  'disk-full': 507,
};

/** A refusal that carries more than a sentence. */
export class DetailedUserError extends UserError {
  constructor(
    code: string,
    message: string,
    readonly more: Record<string, unknown>,
  ) {
    super(code, message);
  }
}

/** Lists and objects within each other beyond which nothing is read: the deepest recipe has half as many. */
export const NESTED = 250;

/** Checks what came with a request. */
export function parseOrThrow<S extends z.ZodType>(schema: S, value: unknown): z.output<S> {
  if (exceedsDepth(value, NESTED)) throw new UserError('bad-request', 'This request is nested too deeply to be read.');
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const { says, path } = firstIssue(result.error, value);
  throw new UserError('bad-request', path ? `${path}: ${says}` : `Invalid request: ${says}`, path || undefined);
}

/** For what is named by what it holds, so that the same address always gives the same bytes; for whoever was let in, and nobody on the way. */
export const FOR_GOOD = { 'Cache-Control': 'private, max-age=31536000, immutable', Vary: 'Cookie' } as const;

/** Ends with the connection of a request: nobody waits for what is still to be done for it. */
export function goneWith(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => {
    if (!response.writableEnded) gone.abort(new UserError('gone', 'The request was interrupted.'));
  });
  return gone.signal;
}

/** The name of a file without anything that could be a path. */
export const baseName = (name: string): string =>
  name
    .split(/[\\/]/)
    .at(-1)
    ?.replace(/\p{Cc}/gu, '')
    .slice(0, 255) || 'stack.fits';

/** An async handler whose faults reach the error handler; Express 5 does so by itself, this only fixes the types. */
export const route =
  (work: (request: Request, response: Response) => Promise<void>): RequestHandler =>
  (request, response) =>
    work(request, response);

/** Turns whatever was thrown into JSON with a code and a sentence; what is not a person's fault is logged, never shown. */
export const errorHandler =
  (log: Logger) =>
  (fault: unknown, request: Request, response: Response, next: NextFunction): void => {
    if (response.headersSent) {
      next(fault);
      return;
    }
    // Whoever sent it has gone; there is no one to be answered.
    if (request.destroyed && !request.complete) {
      log.info({ url: request.originalUrl }, 'a request was broken off');
      return;
    }
    const known = fault instanceof UserError ? fault : faultOf(fault);
    if (!known) log.error({ err: fault, url: request.originalUrl }, 'a request failed');
    const error =
      known ?? new UserError('internal', 'Something went wrong inside Owl Loom; the details are in its log.');
    const more = error instanceof DetailedUserError ? error.more : {};
    const body: ErrorBody = {
      error: {
        code: error.code,
        message: error.where ? userMessageOf(error) : error.message,
        path: error.path,
        ...more,
      },
    };
    response.status(known ? (STATUS[error.code] ?? 422) : 500).json(body);
  };

/** What the reader of bodies and addresses refuses, by its own names. */
const REFUSED: Readonly<Record<string, [string, string]>> = {
  'entity.too.large': ['too-large', 'Request too large.'],
  'entity.parse.failed': ['bad-request', 'The request is not valid JSON.'],
  'charset.unsupported': ['bad-request', 'Unsupported character set; use UTF-8.'],
  'encoding.unsupported': ['bad-request', 'Unsupported content encoding; use gzip or none.'],
  'request.aborted': ['bad-request', 'The request was interrupted.'],
};

/** A fault of what was asked, or of the system around us, as a sentence; undefined where it is ours. */
function faultOf(error: unknown): UserError | undefined {
  const { type, status } = (error ?? {}) as { type?: string; status?: number };
  const [code, says] = REFUSED[type ?? ''] ?? [];
  if (code && says) return new UserError(code, says);
  if (error instanceof URIError) return new UserError('bad-request', 'Invalid address.');
  // What Express and its readers refuse besides has a status of its own.
  if (status === 404) return new UserError('not-found', 'There is nothing at this address.');
  if (status !== undefined && status >= 400 && status < 500)
    return new UserError('bad-request', 'This request is not one that Owl Loom can read.');
  return translateSystemError(error);
}
