import { UserError } from '@owl-loom/base/errors';
import type { WorkerPool } from '../workers/worker-pool';

/** `NAME=FILE` pairs. */
export function namedFiles(pairs: readonly string[]): Map<string, string> {
  const files = new Map<string, string>();
  for (const pair of pairs) {
    const at = pair.indexOf('=');
    if (at < 1 || at === pair.length - 1) throw new UserError('bad-option', `--stack takes NAME=FILE, not "${pair}".`);
    const name = pair.slice(0, at);
    if (files.has(name)) throw new UserError('bad-option', `--stack names ${name} twice; give each stack once.`);
    files.set(name, pair.slice(at + 1));
  }
  return files;
}

/** A whole number above 0. */
export function positive(text: string, option: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value <= 0)
    throw new UserError('bad-option', `${option} takes a whole number above 0, not "${text}".`);
  return value;
}

/** JSON for a terminal or a pipe: measurements that could not be had are null. */
export function printJson(value: unknown): void {
  process.stdout.write(`${JSON.stringify(value, null, 2)}\n`);
}

/** Runs an action with worker threads, which end with it. */
export const withPool =
  <A extends unknown[]>(action: (pool: WorkerPool, ...args: A) => Promise<void>) =>
  async (...args: A): Promise<void> => {
    // Loaded here: a command that needs no threads starts sooner without what they stand on.
    const { WorkerPool: Pool } = await import('../workers/worker-pool');
    const pool = new Pool({ aside: false });
    try {
      await action(pool, ...args);
    } finally {
      await pool.close();
    }
  };
