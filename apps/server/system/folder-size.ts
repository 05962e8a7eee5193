import { WalkBudget, filesUnder } from './listing';
import { existsSync } from 'node:fs';
import { stat } from 'node:fs/promises';

/** How many files there are, and their bytes together. */
export interface Size {
  readonly files: number;
  readonly bytes: number;
}

/**
 * The size of a file, or of all that lies under a folder; what goes while it is looked at, or is not there, counts as nothing.
 * @throws UserError where there are far more files than any data folder has
 */
export async function sizeUnder(path: string, signal?: AbortSignal): Promise<Size> {
  let [files, bytes] = [0, 0];
  for await (const { stats } of filesUnder(path, new WalkBudget(signal))) {
    files++;
    bytes += stats.size;
  }
  return { files, bytes };
}

/** Size of a file, 0 where there is none. */
export const sizeOf = async (path: string): Promise<number> => (existsSync(path) ? (await stat(path)).size : 0);
