import { setTimeout as delay } from 'node:timers/promises';
import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import type { PublicJob } from '@owl-loom/api/jobs';
import type { Address } from '../system/address';

/** How often a job is asked how far it is, ms. */
const LOOK = 300;

/** Owl Loom as a command of the same user speaks to it. */
export class Client {
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
    const response = await this.ask(path, { method: 'POST', headers, body: JSON.stringify(body) });
    return (response.status === 204 ? undefined : await response.json()) as T;
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
    } catch (error) {
      await rm(beside, { force: true });
      const code = errorCodeOf(error);
      if (code) throw new UserError('cannot-write', `${to} cannot be written (${code}); choose another place.`);
      throw error;
    }
  }

  /**
   * Waits for a job.
   * @param onProgress how far it is, 0 to 1, whenever it is looked at
   * @returns its result
   * @throws UserError where it failed
   */
  async follow<T>(id: string, onProgress?: (share: number) => void): Promise<T> {
    for (;;) {
      const { state, progress, message, result } = await this.get<PublicJob>(`/jobs/${id}`);
      if (state === 'done') return result as T;
      if (state === 'failed' || state === 'cancelled') throw new UserError('job-failed', message ?? 'It was stopped.');
      onProgress?.(progress);
      await delay(LOOK);
    }
  }
}
