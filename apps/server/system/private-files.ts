import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmod, mkdir, stat } from 'node:fs/promises';
import { isMainThread } from 'node:worker_threads';
import { UserError } from '@owl-loom/base/errors';

/** What a file or folder grants to others than its owner. */
const OTHERS = 0o077;

/**
 * What this process and those that it starts write from now on is for this user alone, whatever the shell's mask is. A thread beside the main
 * one cannot say so; it has the mask of the process.
 */
export function keepPrivate(): void {
  if (isMainThread) process.umask(OTHERS);
}

/**
 * Sees that nobody but this user can enter the data folder; one of an earlier version is closed with all that is in it.
 * @returns whether it had been open
 * @throws UserError where it belongs to someone else
 */
export async function closeFolder(root: string): Promise<boolean> {
  await mkdir(root, { recursive: true, mode: 0o700 });
  const { mode, uid } = await stat(root);
  if ((mode & OTHERS) === 0) return false;
  const own = process.getuid?.();
  if (own !== undefined && own !== 0 && uid !== own)
    throw new UserError(
      'foreign-folder',
      `The data folder ${root} belongs to another user, and others can read it; choose one of your own with LOOM_DATA.`,
    );
  // The system's own command follows no links, and takes a folder of a hundred thousand files in a moment.
  const inside = spawn('chmod', ['-R', 'go-rwx', '--', root], { stdio: 'ignore' });
  const [code] = await once(inside, 'close');
  if (code !== 0) await chmod(root, 0o700);
  return true;
}
