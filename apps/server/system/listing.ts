import type { Stats } from 'node:fs';
import { lstat, opendir } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '@owl-loom/base/errors';

/** Entries that one walk looks at: a thousand stacks with all that is made of them have some hundred thousand. */
const MAX_ENTRIES = 4_000_000;
/** Entries that are looked at at once. */
const BATCH = 64;

/** Entries that a walk may still look at. */
export class WalkBudget {
  constructor(
    private readonly signal?: AbortSignal,
    private left = MAX_ENTRIES,
  ) {}

  /** @throws UserError where the walk has gone on for too long; the signal's reason where it is stopped */
  spend(folder: string): void {
    this.signal?.throwIfAborted();
    if (--this.left < 0)
      throw new UserError('folder-large', `${folder} has far too many files. Choose another folder.`);
  }
}

/** The names in a folder; none where there is no such folder. */
export async function namesIn(folder: string, budget = new WalkBudget()): Promise<string[]> {
  const dir = await opendir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return undefined;
    throw error;
  });
  const names: string[] = [];
  // The iterator closes the folder, also where the budget ends it.
  for await (const { name } of dir ?? []) {
    budget.spend(folder);
    names.push(name);
  }
  return names;
}

/** Every file in and under a folder with what the system says of it; links are not followed. What goes meanwhile is left out. */
export async function* filesUnder(
  path: string,
  budget = new WalkBudget(),
): AsyncGenerator<{ path: string; stats: Stats }> {
  const open = [path];
  for (let next = open.splice(-BATCH); next.length > 0; next = open.splice(-BATCH)) {
    const found = await Promise.all(next.map((one) => lstat(one).catch(() => undefined)));
    for (const [i, stats] of found.entries()) {
      if (stats?.isFile()) yield { path: next[i], stats };
      else if (stats?.isDirectory()) for (const name of await namesIn(next[i], budget)) open.push(join(next[i], name));
    }
  }
}
