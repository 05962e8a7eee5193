import { randomUUID } from 'node:crypto';
import { rm, statfs, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';

/** Bytes that a start needs: the database's own files, and something to go on with. */
const TO_START = 400e6;

/** Bytes that are free on the disk of a folder, for this user. */
export async function freeBytes(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return Number(bavail) * Number(bsize);
}

/** Bytes that are always left, so that the database can go on and nothing that was acknowledged is lost. */
const LEFT = 128e6;

/** Bytes that may still be written. */
const usable = async (root: string): Promise<number> => (await freeBytes(root)) - LEFT;

/** Whether there is room for what can be done without. */
export const hasDiskSpace = async (root: string, bytes: number): Promise<boolean> => bytes <= (await usable(root));

/**
 * Sees that there is room for what is about to be written, before the work begins.
 * @param what as the sentence begins
 * @throws UserError
 */
export async function requireDiskSpace(root: string, bytes: number, what: string): Promise<void> {
  const free = await usable(root);
  if (bytes <= free) return;
  throw new UserError(
    'disk-full',
    `${what} needs about ${formatBytes(bytes)}, and ${formatBytes(free)} can be used on the disk of ${root}; free some space and try again.`,
  );
}

/** Bytes of a pyramid: every level is a quarter of the one before. */
export const pyramidBytes = ({ width, height, planes }: { width: number; height: number; planes: number }): number =>
  Math.ceil((width * height * planes * 4 * 4) / 3);

/** Bytes for a sentence, in units of 1000 as the page and disks have them. */
export const formatBytes = (bytes: number): string =>
  bytes >= 1e9
    ? `${(bytes / 1e9).toFixed(1)} GB`
    : bytes >= 1e6 || bytes <= 0
      ? `${Math.max(0, Math.round(bytes / 1e6))} MB`
      : `${Math.ceil(bytes / 1e3)} kB`;

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
      `Only ${formatBytes(free)} are free on the disk of ${root}, and Owl Loom needs ${formatBytes(TO_START)} to start; free some space, or choose another folder with LOOM_DATA.`,
    );
  try {
    await writeFile(probe, 'x');
    await rm(probe);
  } catch (error) {
    throw new UserError(
      'cannot-write',
      `The data folder ${root} cannot be written (${errorCodeOf(error)}); choose another with LOOM_DATA, or see that it may be written.`,
    );
  }
}
