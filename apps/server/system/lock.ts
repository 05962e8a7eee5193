import { createHash } from 'node:crypto';
import { mkdir, realpath } from 'node:fs/promises';
import { createServer, type Server } from 'node:net';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import { translateSystemError } from './system-errors';

/** A name that the system knows only as long as its holder lives: no file is left behind that could be taken for a lock. */
const nameOf = (folder: string): string =>
  `\0owl-loom-${createHash('sha256').update(folder).digest('hex').slice(0, 32)}`;

function hold(name: string): Promise<Server | undefined> {
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.destroy());
    server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? resolve(undefined) : reject(error),
    );
    server.listen(name, () => {
      server.unref();
      resolve(server);
    });
  });
}

/**
 * Takes a folder for this process alone, however that ends.
 * @returns what lets go of it
 * @throws UserError where another process has it, or the folder cannot be made
 */
export async function lockFolder(root: string): Promise<() => Promise<void>> {
  try {
    await mkdir(root, { recursive: true });
  } catch (error) {
    throw (
      translateSystemError(error) ??
      new UserError(
        'no-folder',
        `The data folder ${root} cannot be made (${errorCodeOf(error)}); choose another with LOOM_DATA, or see that it may be written.`,
      )
    );
  }
  const server = await hold(nameOf(await realpath(root)));
  if (!server)
    throw new UserError(
      'already-running',
      `Another Owl Loom is running on the data in ${root}; use that one, or stop it first.`,
    );
  return () => new Promise((resolve) => server.close(() => resolve()));
}
