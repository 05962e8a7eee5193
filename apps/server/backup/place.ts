import { realpath } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join, relative, resolve } from 'node:path';
import { UserError } from '@owl-loom/base/errors';

export const within = (outer: string, inner: string): boolean => {
  const path = relative(outer, inner);
  return path === '' || (!path.startsWith('..') && !isAbsolute(path));
};

/** The real place of a folder that may not be there yet: that of what is there of its path, and the rest as it is. */
export async function placeOf(dir: string): Promise<string> {
  const real = await realpath(dir).catch(() => undefined);
  return real ?? join(await placeOf(dirname(dir)), basename(dir));
}

/** Where the system keeps what looks like files and is none: reading there may never end, writing may do anything. */
const KERNEL = ['/proc', '/sys', '/dev', '/run'];

/**
 * The real place of a folder for backups.
 * @throws UserError where it is no whole path, or the system's own
 */
export async function checkPlace(dir: string): Promise<string> {
  if (!isAbsolute(dir))
    throw new UserError('bad-folder', `${dir} is not an absolute path. Enter one that starts with /.`);
  const place = await placeOf(resolve(dir));
  if (place === '/' || KERNEL.some((folder) => within(folder, place)))
    throw new UserError('bad-folder', `${dir} belongs to the system. Choose a folder on a disk for backups.`);
  return place;
}
