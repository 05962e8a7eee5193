import { spawn } from 'node:child_process';
import { createReadStream, createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { UserError } from '@owl-loom/base/errors';
import type { Database } from '../../system/mariadb';

type At = Pick<Database, 'socketPath' | 'schema' | 'user'>;

const argsFor = ({ socketPath, user }: At): string[] => ['--no-defaults', `--socket=${socketPath}`, `--user=${user}`];

/** How a program of MariaDB ended, and the last that it said. */
async function ended(child: ReturnType<typeof spawn>): Promise<{ code: number | null; says: string }> {
  let says = '';
  child.stderr?.on('data', (piece: Buffer) => {
    says = (says + piece.toString('utf8')).slice(-2000);
  });
  const code = await new Promise<number | null>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', resolve);
  });
  return { code, says: says.trim().split('\n').at(-1) ?? '' };
}

/**
 * Writes the database as it is at one moment, as gzipped SQL, while it goes on.
 * @throws UserError where it cannot be written
 */
export async function dumpDatabase(at: At, path: string, signal?: AbortSignal): Promise<void> {
  const child = spawn('mariadb-dump', [...argsFor(at), '--single-transaction', '--hex-blob', at.schema], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  try {
    const [{ code, says }] = await Promise.all([
      ended(child),
      pipeline(child.stdout, createGzip({ level: 4 }), createWriteStream(path), { signal }),
    ]);
    if (code !== 0) throw new UserError('no-dump', `The database could not be copied: ${says}.`);
  } catch (error) {
    child.kill();
    await rm(path, { force: true });
    throw error;
  }
}

/**
 * Brings a dump into an empty database.
 * @throws UserError where it is damaged
 */
export async function loadDump(at: At, path: string): Promise<void> {
  const child = spawn('mariadb', [...argsFor(at), at.schema], { stdio: ['pipe', 'ignore', 'pipe'] });
  const end = ended(child);
  await pipeline(createReadStream(path), createGunzip(), child.stdin).catch((error: NodeJS.ErrnoException) => {
    child.kill();
    // What MariaDB refuses it says itself.
    if (error.code !== 'EPIPE')
      throw new UserError('damaged-backup', `The copy of the database, ${path}, is damaged; use another backup.`);
  });
  const { code, says } = await end;
  if (code !== 0) throw new UserError('damaged-backup', `The copy of the database cannot be read: ${says}.`);
}
