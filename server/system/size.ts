import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';

/** How many files there are, and their bytes together. */
export interface Size {
  readonly files: number;
  readonly bytes: number;
}

const NOTHING: Size = { files: 0, bytes: 0 };

/** The size of a file, or of all that lies under a folder; what goes while it is looked at, or is not there, counts as nothing. */
export async function sizeUnder(path: string): Promise<Size> {
  const found = await stat(path).catch(() => undefined);
  if (!found) return NOTHING;
  if (!found.isDirectory()) return { files: 1, bytes: found.size };
  const names = await readdir(path).catch(() => []);
  const sizes = await Promise.all(names.map((name) => sizeUnder(join(path, name))));
  return sizes.reduce((sum, { files, bytes }) => ({ files: sum.files + files, bytes: sum.bytes + bytes }), NOTHING);
}
