import { UserError } from '@owl-loom/base/errors';
import { Client } from './client';
import { startAll } from '../main/start';
import { addressOf } from '../system/address';
import { dataDir } from '../system/home';
import { ensurePrograms } from '../system/packages';
import { SERVER_PROGRAMS } from './programs';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

/** Tells in tenths how far something is, where someone looks on. */
export function progressPrinter(): (share: number) => void {
  let shownPercent = -1;
  return (share) => {
    const now = Math.floor(share * 10);
    if (now !== shownPercent && process.stderr.isTTY) say(`${now * 10} %`);
    shownPercent = now;
  };
}

/** Speaks to the Owl Loom that runs on the data folder; where none does, starts one for the while. */
export async function withRunningServer<T>(work: (client: Client) => Promise<T>): Promise<T> {
  ensurePrograms(SERVER_PROGRAMS, say);
  const root = dataDir();
  try {
    const running = await startAll({ root, port: 0 });
    try {
      return await work(new Client(running.command));
    } finally {
      await running.stop();
    }
  } catch (error) {
    if (!(error instanceof UserError) || error.code !== 'already-running') throw error;
    const at = await addressOf(root);
    if (!at) throw error;
    return work(new Client(at));
  }
}
