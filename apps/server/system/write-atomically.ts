import { randomUUID } from 'node:crypto';
import { open, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';

/**
 * Writes a file whole or not at all: beside its place first, then renamed.
 * @param mode who may read and write it, less what the system's mask takes
 * @throws UserError where the place cannot be written
 */
export async function writeAtomically(path: string, parts: Iterable<Uint8Array>, mode = 0o666): Promise<void> {
  const beside = join(dirname(path), `.${randomUUID()}.part`);
  try {
    const file = await open(beside, 'w', mode);
    try {
      for (const part of parts) {
        for (let done = 0; done < part.length; )
          done += (await file.write(part, done, part.length - done)).bytesWritten;
      }
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(beside, path);
  } catch (error) {
    await rm(beside, { force: true });
    const code = errorCodeOf(error);
    if (code === 'ENOSPC')
      throw new UserError('disk-full', `The disk is full, so ${path} was not written; free some space and try again.`);
    if (code)
      throw new UserError(
        'cannot-write',
        `${path} cannot be written (${code}); check that its folder exists and may be written.`,
      );
    throw error;
  }
}
