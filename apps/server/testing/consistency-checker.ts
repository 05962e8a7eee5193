import { setTimeout as delay } from 'node:timers/promises';
import { createHash, randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { randomFrom } from '@owl-loom/testing/random';
import type { Recipe } from '@owl-loom/recipe/schema';
import { fits } from './api';

/** What came back: nothing where the line broke or the server was away. */
interface Answer {
  readonly status: number;
  readonly text: string;
}

/** A recipe and all of its states that the server has acknowledged. */
interface Known {
  readonly target: string;
  readonly states: Map<number, string>;
  newest: number;
}

/** Statuses that say "not now": nothing is promised by them. */
const NOT_NOW = new Set([503, 507]);

/**
 * Someone who works through a line that may break at any time, writes down what was acknowledged, and later looks whether it is all there.
 * What was asked without an answer may have been done or not; a save is asked again under its own key.
 */
export class ConsistencyChecker {
  readonly targets = new Map<string, string>();
  readonly recipes = new Map<string, Known>();
  /** Stacks by target: SHA-256 of what was imported. */
  readonly stacks = new Map<string, Set<string>>();
  readonly swatches = new Map<string, string>();
  /** Acknowledged deeds. */
  done = 0;
  /** Set while faults happen: what was promised may take its time as long as they do. */
  troubled = true;
  private readonly random: ReturnType<typeof randomFrom>;
  private count = 0;
  private readonly busy = new Set<string>();

  /**
   * @param port where the line begins
   * @param host what the server is called
   */
  constructor(
    private readonly port: () => number,
    private readonly host: string,
    seed: number,
  ) {
    this.random = randomFrom(seed);
  }

  /** A whole number from 0 on, below another. */
  below(n: number): number {
    return Math.min(n - 1, Math.floor(this.random.next() * n));
  }

  private one<T>(all: readonly T[]): T | undefined {
    return all.length > 0 ? all[this.below(all.length)] : undefined;
  }

  private ask(method: string, path: string, body?: Buffer | object): Promise<Answer | undefined> {
    const bytes = body === undefined || Buffer.isBuffer(body) ? body : Buffer.from(JSON.stringify(body));
    const headers = {
      Host: this.host,
      'Content-Type': Buffer.isBuffer(body) ? 'application/octet-stream' : 'application/json',
      ...(bytes && { 'Content-Length': bytes.length }),
    };
    return new Promise((resolve) => {
      const asked = request(
        { host: '127.0.0.1', port: this.port(), method, path: `/api${path}`, headers, agent: false, timeout: 30_000 },
        (response) => {
          let text = '';
          response.on('data', (piece: Buffer) => {
            text += piece.toString('utf8');
          });
          response.on('end', () => resolve({ status: response.statusCode ?? 0, text }));
          response.on('error', () => resolve(undefined));
          response.on('aborted', () => resolve(undefined));
        },
      );
      asked.on('error', () => resolve(undefined));
      asked.on('timeout', () => {
        asked.destroy();
        resolve(undefined);
      });
      asked.end(bytes);
    });
  }

  /** What was answered with success, read; a fault of the server's own is one of ours. */
  private async request<T>(method: string, path: string, body?: Buffer | object): Promise<T | undefined> {
    const answer = await this.ask(method, path, body);
    if (!answer || NOT_NOW.has(answer.status)) return undefined;
    if (answer.status >= 500 || /node_modules|at .*\(.*:\d+:\d+\)/.test(answer.text))
      throw new Error(`${method} ${path} was answered ${answer.status}: ${answer.text.slice(0, 300)}`);
    if (answer.status >= 400) return undefined;
    return (answer.text === '' ? {} : JSON.parse(answer.text)) as T;
  }

  private recipe(): Recipe {
    return {
      format: 'owl-loom-recipe',
      version: 1,
      name: `Recipe ${this.count++} ${'of many words '.repeat(this.below(40))}`.slice(0, 190).trim(),
      strands: [{ id: 'a', from: { stack: 'Ha' }, steps: [{ do: 'scale', multiply: 1 + this.random.next() }] }],
      cloth: { layers: [{ id: 'base', of: { strand: 'a' }, steps: [{ do: 'stretch' }] }] },
    };
  }

  /** Does something, as someone at work would. */
  async work(): Promise<void> {
    const target = this.one([...this.targets.keys()]);
    const dice = this.below(20);
    if (!target || dice === 0) await this.addTarget();
    else if (dice < 3) await this.addRecipe(target);
    else if (dice < 13) await this.atRecipe((id, known) => this.save(id, known));
    else if (dice < 16) await this.bringIn(target);
    else if (dice < 17) await this.keepSwatch();
    else if (dice < 18) await this.atRecipe((id) => this.throwAndFetch(id));
    else await this.look(target);
  }

  private async addTarget(): Promise<void> {
    const name = `Target ${this.count++}`;
    const made = await this.request<{ id: string }>('POST', '/targets', { name });
    if (made) this.acknowledged(() => this.targets.set(made.id, name));
  }

  private acknowledged(note: () => void): void {
    note();
    this.done++;
  }

  private async addRecipe(target: string): Promise<void> {
    const body = this.recipe();
    const made = await this.request<{ id: string; revision: number }>('POST', `/targets/${target}/recipes`, { body });
    if (made)
      this.acknowledged(() =>
        this.recipes.set(made.id, { target, states: new Map([[1, JSON.stringify(body)]]), newest: 1 }),
      );
  }

  /** One hand at a time is at a recipe: two would be a conflict, which is another matter. */
  private async atRecipe(work: (id: string, known: Known) => Promise<void>): Promise<void> {
    const entry = this.one([...this.recipes].filter(([id]) => !this.busy.has(id)));
    if (!entry) return;
    this.busy.add(entry[0]);
    try {
      await work(...entry);
    } finally {
      this.busy.delete(entry[0]);
    }
  }

  /** Saves a state, asking again under the same key until it is answered, as the page does. */
  private async save(id: string, known: Known): Promise<void> {
    const body = this.recipe();
    const key = randomUUID();
    for (let tries = 0; tries < 200; tries++) {
      const saved = await this.request<{ revision: number }>('PUT', `/recipes/${id}`, {
        parent: known.newest,
        body,
        key,
      });
      if (saved) {
        if (saved.revision !== known.newest + 1)
          throw new Error(`a save became state ${saved.revision}, where ${known.newest + 1} was to come`);
        this.acknowledged(() => {
          known.newest = saved.revision;
          known.states.set(saved.revision, JSON.stringify(body));
        });
        return;
      }
      await delay(150);
    }
    throw new Error('a save was never answered');
  }

  private async bringIn(target: string): Promise<void> {
    const bytes = fits(1000 + this.below(6), 'Ha');
    const sent = await this.request<{ job?: string }>('PUT', `/targets/${target}/uploads?name=night_Ha.fits`, bytes);
    if (!sent?.job) return;
    for (let quiet = 0; quiet < 900; quiet += this.troubled ? 0 : 1) {
      const job = await this.request<{ state: string; message: string | null }>('GET', `/jobs/${sent.job}`);
      // One that was at work whenever the server was killed is given up, and says to begin it anew.
      if (job?.state === 'failed' && /^The server ended \d+ times/.test(job.message ?? '')) return this.bringIn(target);
      if (job?.state === 'failed') throw new Error(`an import that was promised failed: ${job.message}`);
      if (job?.state === 'done') {
        const hash = createHash('sha256').update(bytes).digest('hex');
        this.acknowledged(() => this.stacks.set(target, (this.stacks.get(target) ?? new Set()).add(hash)));
        return;
      }
      await delay(100);
    }
    throw new Error('an import never ended');
  }

  private async keepSwatch(): Promise<void> {
    const entry = this.one([...this.recipes.entries()]);
    if (!entry) return;
    const [recipeId, { target }] = entry;
    const body = this.recipe();
    const kept = await this.request<{ id: string }>('POST', `/targets/${target}/swatches`, { recipeId, body });
    if (kept) this.acknowledged(() => this.swatches.set(kept.id, JSON.stringify(body)));
  }

  private async throwAndFetch(id: string): Promise<void> {
    const thrown = await this.ask('DELETE', `/recipes/${id}`);
    // Whether it was thrown away may not be known, and it may still be on its way; either way it is to be there again.
    if (thrown?.status !== 204) await delay(3000);
    for (let tries = 0; tries < 200; tries++) {
      const answer = await this.ask('POST', `/trash/recipe/${id}/back`);
      if (answer?.status === 200 || answer?.status === 404) return;
      await delay(150);
    }
    throw new Error('a recipe never came back from the trash');
  }

  private async look(target: string): Promise<void> {
    await this.request('GET', `/targets/${target}`);
    await this.request('GET', `/targets/${target}/stacks`);
  }

  /** A stack's pixels that may be damaged on purpose. */
  async somePixels(): Promise<string | undefined> {
    const target = this.one([...this.stacks.keys()]);
    if (!target) return undefined;
    const rows = (await this.request<{ pixels: string }[]>('GET', `/targets/${target}/stacks`)) ?? [];
    return this.one(rows)?.pixels;
  }

  /**
   * Looks whether everything that was acknowledged is there, as it was.
   * @param ask without the line that breaks
   * @returns what is not
   */
  async lost(ask: <T>(path: string) => Promise<T>): Promise<string[]> {
    const lost: string[] = [];
    const targets = new Map((await ask<{ id: string; name: string }[]>('/targets')).map((one) => [one.id, one.name]));
    for (const [id, name] of this.targets) if (targets.get(id) !== name) lost.push(`the target ${name}`);
    for (const [id, { states, newest }] of this.recipes) {
      const found = await ask<{ revision: number; body: unknown }>(`/recipes/${id}`);
      if (found.revision < newest) lost.push(`state ${newest} of ${id}: it is at ${found.revision}`);
      const rows = await ask<{ id: string; number: number | null }[]>(`/recipes/${id}/states`);
      for (const [number, body] of states) {
        const row = rows.find((one) => one.number === number);
        const state = row && (await ask<{ body: unknown }>(`/states/${row.id}`));
        if (JSON.stringify(state?.body) !== body) lost.push(`state ${number} of ${id}`);
      }
    }
    for (const [target, hashes] of this.stacks) {
      const rows = await ask<{ hash: string; lacking: string | null }[]>(`/targets/${target}/stacks`);
      for (const hash of hashes)
        if (!rows.some((row) => row.hash === hash && row.lacking === null)) lost.push(`the stack ${hash} of ${target}`);
    }
    for (const [id, body] of this.swatches) {
      const swatch = await ask<{ body: unknown }>(`/swatches/${id}`);
      if (JSON.stringify(swatch.body) !== body) lost.push(`the swatch ${id}`);
    }
    return lost;
  }
}
