import { WalkBudget, filesUnder } from './listing';

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
