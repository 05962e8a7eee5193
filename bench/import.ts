import { setTimeout as pause } from 'node:timers/promises';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from '../apps/server/cli/client';
import type { Address } from '../apps/server/system/address';
import { HOME } from '../apps/server/system/home';
import type { Night } from './renders';

/** What bringing a night in takes, in seconds, and how long questions to the server waited meanwhile, in milliseconds. */
export interface ImportTimes {
  readonly seconds: number;
  readonly perFile: number;
  readonly medianWaitMs: number;
  readonly p99WaitMs: number;
  readonly longestWaitMs: number;
  /** The longest of those during which the host gave this machine all the time that it wanted. */
  readonly longestOwnMs: number;
}

/** Ticks that the machine's host has kept from it up to now. */
const keptFromUs = (): number => Number(readFileSync('/proc/stat', 'latin1').split('\n', 1)[0].split(/ +/)[8]);

/** Sends files in another process, since this one has questions to ask meanwhile. */
async function send({ address, key }: Address, target: string, files: readonly string[]): Promise<void> {
  const args = [join(HOME, 'dist/server/send.js'), address, key, target, ...files];
  const sender = spawn(process.execPath, args, { stdio: 'inherit' });
  const [code] = await once(sender, 'close');
  if (code !== 0) throw new Error('the files could not be sent');
}

/**
 * Sends a night's files to a new target and waits until all are taken in.
 * @param server a process of its own: what this one does must not be measured with it
 */
export async function importNight(
  server: Address,
  name: string,
  { files }: Night,
): Promise<{ target: string; times: ImportTimes }> {
  const client = new Client(server);
  const { id: target } = await client.post<{ id: string }>('/targets', { name });
  const waits: number[] = [];
  const own: number[] = [];
  let over = false;
  const watching = (async () => {
    while (!over) {
      const [from, kept] = [performance.now(), keptFromUs()];
      await client.get('/health');
      const wait = performance.now() - from;
      waits.push(wait);
      if (keptFromUs() === kept) own.push(wait);
      await pause(25);
    }
  })();
  const started = performance.now();
  await send(server, target, Object.values(files));
  for (;;) {
    const jobs = await client.get<{ kind: string; state: string }[]>('/jobs');
    const imports = jobs.filter((job) => job.kind === 'import');
    if (imports.some((job) => job.state === 'failed')) throw new Error('an import failed');
    if (imports.every((job) => job.state === 'done')) break;
    await pause(100);
  }
  const seconds = (performance.now() - started) / 1000;
  over = true;
  await watching;
  const count = Object.keys(files).length;
  waits.sort((a, b) => a - b);
  const at = (q: number) => waits[Math.min(waits.length - 1, Math.floor(q * waits.length))];
  const wait = { medianWaitMs: at(0.5), p99WaitMs: at(0.99), longestWaitMs: at(1), longestOwnMs: Math.max(...own) };
  return { target, times: { seconds, perFile: seconds / count, ...wait } };
}
