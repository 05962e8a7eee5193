import { spawnSync } from 'node:child_process';

/**
 * Mounts a disk in memory on a folder that is there.
 * @param options of the mount, such as its size
 * @returns takes it away; undefined where this user may not mount one
 */
export function smallDisk(at: string, options: string): (() => void) | undefined {
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', options, 'tmpfs', at]).status !== 0) return undefined;
  return () => void spawnSync('umount', [at]);
}
