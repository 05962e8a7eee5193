import { readFileSync } from 'node:fs';

/**
 * What the system calls the time since it was started; undefined where it does not say. What was written in it is read back from its memory,
 * whether or not it has reached the disk.
 */
export const BOOT: string | undefined = (() => {
  try {
    return readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
  } catch {
    // Other systems than Linux have no such file.
    return undefined;
  }
})();
