import { UserError } from '@owl-loom/base/errors';

const DATABASE_GONE = new Set([
  'ENOENT',
  'ECONNREFUSED',
  'PROTOCOL_CONNECTION_LOST',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ER_SERVER_SHUTDOWN',
  'POOL_CLOSED',
]);

/** True where a fault says that the database cannot be reached. */
function isDatabaseGone(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { code, message, driverError } = error as { code?: unknown; message?: unknown; driverError?: unknown };
  // What the pool of connections says of itself has no code.
  if (message === 'Pool is closed.') return true;
  return (typeof code === 'string' && DATABASE_GONE.has(code) && !('path' in error)) || isDatabaseGone(driverError);
}

/** What the system, and the database in its own words, say of a full disk. */
const FULL = new Set<unknown>(['ENOSPC', 'EDQUOT', 'ER_DISK_FULL', 'ER_RECORD_FILE_FULL', 'ER_ERROR_ON_WRITE']);

/** A fault of the system around us as a sentence for a person; undefined where it is none that a person can mend. */
export function translateSystemError(error: unknown): UserError | undefined {
  if (isDatabaseGone(error))
    return new UserError('database-gone', 'Database not responding. Nothing is lost; work resumes when it is back.');
  const { code, driverError } = (error ?? {}) as { code?: unknown; driverError?: { code?: unknown } };
  if (FULL.has(code) || FULL.has(driverError?.code))
    return new UserError('disk-full', 'Disk full: nothing was saved. Free some space and try again.');
  return undefined;
}
