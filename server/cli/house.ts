import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { UserError } from '../../core/errors';
import type { PublicJob } from '../jobs/public-job';
import { startAll } from '../start';
import { type Address, addressOf } from '../system/address';
import { dataDir } from '../system/home';
import { ensurePrograms } from '../system/packages';
import { SERVER_PROGRAMS } from './programs';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

/** How often a job is asked how far it is, ms. */
const LOOK = 300;

/** Owl Loom as a command speaks to it: the one that runs on the data folder, or one started for the while. */
export class House {
  constructor(private readonly at: Address) {}

  /** @throws UserError with the sentence of a refusal */
  private async ask(path: string, how: RequestInit = {}): Promise<Response> {
    const headers = { Authorization: `Bearer ${this.at.key}`, ...(how.headers as Record<string, string>) };
    const response = await fetch(`${this.at.address}/api${path}`, { ...how, headers });
    if (response.ok) return response;
    const { error } = (await response.json().catch(() => ({}))) as { error?: { code: string; message: string } };
    throw new UserError(error?.code ?? 'refused', error?.message ?? `Owl Loom answered ${response.status}.`);
  }

  async get<T>(path: string): Promise<T> {
    return (await (await this.ask(path)).json()) as T;
  }

  async post<T>(path: string, body: unknown = {}): Promise<T> {
    const headers = { 'Content-Type': 'application/json' };
    return (await (await this.ask(path, { method: 'POST', headers, body: JSON.stringify(body) })).json()) as T;
  }

  /** Sends a file as it is. */
  async send<T>(path: string, file: string): Promise<T> {
    const headers = { 'Content-Type': 'application/octet-stream', 'Content-Length': String((await stat(file)).size) };
    const body = Readable.toWeb(createReadStream(file)) as ReadableStream;
    const how = { method: 'PUT', headers, body, duplex: 'half' } as RequestInit;
    return (await (await this.ask(path, how)).json()) as T;
  }

  /** Fetches a file, whole or not at all. */
  async fetchFile(path: string, to: string): Promise<void> {
    const { body } = await this.ask(path);
    if (!body) throw new UserError('refused', 'Owl Loom gave no file.');
    const beside = `${to}.part`;
    try {
      await pipeline(Readable.fromWeb(body as never), createWriteStream(beside));
      await rename(beside, to);
    } catch (fault) {
      await rm(beside, { force: true });
      const { code } = fault as NodeJS.ErrnoException;
      if (code) throw new UserError('cannot-write', `${to} cannot be written (${code}); choose another place.`);
      throw fault;
    }
  }

  /**
   * Waits for a job, telling how far it is.
   * @returns its result
   * @throws UserError where it failed
   */
  async follow<T>(id: string): Promise<T> {
    let told = -1;
    for (;;) {
      const { state, progress, message, result } = await this.get<PublicJob>(`/jobs/${id}`);
      if (state === 'done') return result as T;
      if (state === 'failed' || state === 'cancelled') throw new UserError('job-failed', message ?? 'It was stopped.');
      const share = Math.floor(progress * 10);
      if (share !== told && process.stderr.isTTY) say(`${share * 10} %`);
      told = share;
      await new Promise((resolve) => setTimeout(resolve, LOOK));
    }
  }
}

/** Speaks to the Owl Loom that runs on the data folder; where none does, starts one for the while. */
export async function atHouse<T>(work: (house: House) => Promise<T>): Promise<T> {
  ensurePrograms(SERVER_PROGRAMS, say);
  const root = dataDir();
  try {
    const running = await startAll({ root, port: 0 });
    try {
      return await work(new House({ address: running.command, key: running.key }));
    } finally {
      await running.stop();
    }
  } catch (fault) {
    if (!(fault instanceof UserError) || fault.code !== 'already-running') throw fault;
    const at = await addressOf(root);
    if (!at) throw fault;
    return work(new House(at));
  }
}
