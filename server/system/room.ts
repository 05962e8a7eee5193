import { randomUUID } from 'node:crypto';
import { rm, statfs, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '../../core/errors';

/** Bytes that a start needs: the database's own files, and something to go on with. */
const TO_START = 400 * 2 ** 20;

/** Bytes that are free on the disk of a folder, for this user. */
export async function freeBytes(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return Number(bavail) * Number(bsize);
}

/** Megabytes, or gigabytes where they are many, for a sentence. */
export const spokenBytes = (bytes: number): string =>
  bytes >= 2 ** 30 ? `${(bytes / 2 ** 30).toFixed(1)} GB` : `${Math.max(0, Math.round(bytes / 2 ** 20))} MB`;

/**
 * Sees that a folder can be written and has room to start in.
 * @throws UserError
 */
export async function checkFolder(root: string): Promise<void> {
  const probe = join(root, `.${randomUUID()}.probe`);
  const free = await freeBytes(root);
  if (free < TO_START)
    throw new UserError(
      'no-room',
      `Only ${spokenBytes(free)} are free on the disk of ${root}, and Owl Loom needs ${spokenBytes(TO_START)} to start; free some space, or choose another folder with LOOM_DATA.`,
    );
  try {
    await writeFile(probe, 'x');
  } catch (fault) {
    throw new UserError(
      'cannot-write',
      `The data folder ${root} cannot be written (${(fault as NodeJS.ErrnoException).code}); choose another with LOOM_DATA, or see that it may be written.`,
    );
  } finally {
    await rm(probe, { force: true }).catch(() => undefined);
  }
}
