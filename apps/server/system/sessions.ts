import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import { writeAtomically } from './write-atomically';

/** How long a browser stays let in without being used, in seconds. */
export const SESSION_SECONDS = 30 * 24 * 3600;
/** How often it is written down that a browser is used, in milliseconds. */
const NOTED = 10 * 60_000;
/** Browsers that may be let in at once; beyond that the one used longest ago is let go. */
const MOST = 200;

const time = z.int().nonnegative();
const session = z.strictObject({
  id: z.uuid(),
  /** SHA-256 of its ticket: whoever reads the file cannot come in by it. */
  ticket: z.string().regex(/^[0-9a-f]{64}$/),
  /** Milliseconds since 1970. */
  begun: time,
  used: time,
  from: z.string().max(100),
  agent: z.string().max(300),
});
type Session = z.output<typeof session>;
const schema = z.strictObject({ password: z.string(), sessions: z.array(session).max(MOST) });

/** A browser that is let in, as people are told of it. */
export type PublicSession = Omit<Session, 'ticket'>;

/** Where someone comes from. */
export type Caller = Pick<Session, 'from' | 'agent'>;

const fileOf = (root: string): string => join(root, 'sessions.json');
const hashOf = (ticket: string): string => createHash('sha256').update(ticket).digest('hex');

/**
 * The browsers that were let in by one password. They are kept, so that each can be ended; what is kept belongs to one password, and ends with
 * it.
 */
export class Sessions {
  private readonly all = new Map<string, Session>();
  private noted = 0;
  private writing: Promise<void> = Promise.resolve();

  constructor(
    private readonly root: string,
    /** Which password they came in by: another salt is another password. */
    private readonly password: string,
  ) {}

  /** Those of a folder; none where another password was set since, or the file cannot be read. */
  static async of(root: string, password: string): Promise<Sessions> {
    const made = new Sessions(root, password);
    const text = await readFile(fileOf(root), 'utf8').catch(() => '');
    const kept = schema.safeParse(parseJsonOrUndefined(text)).data;
    if (kept?.password === password) for (const one of kept.sessions) made.all.set(one.ticket, one);
    return made;
  }

  private alive(ticket: string, now: number): Session | undefined {
    const found = this.all.get(hashOf(ticket));
    return found && found.used + 1000 * SESSION_SECONDS > now ? found : undefined;
  }

  /** Lets a browser in. */
  async begin({ from, agent }: Caller, now = Date.now()): Promise<string> {
    const ticket = randomBytes(32).toString('hex');
    const made = { id: randomUUID(), begun: now, used: now, from: from.slice(0, 100), agent: agent.slice(0, 300) };
    this.all.set(hashOf(ticket), { ...made, ticket: hashOf(ticket) });
    for (const [key, one] of this.all) if (one.used + 1000 * SESSION_SECONDS <= now) this.all.delete(key);
    const byUse = [...this.all].sort(([, a], [, b]) => b.used - a.used);
    for (const [key] of byUse.slice(MOST)) this.all.delete(key);
    await this.write();
    return ticket;
  }

  /** Whether a ticket lets in; it does for as long as it is used. */
  isValidToken(ticket: string, now = Date.now()): boolean {
    const found = this.alive(ticket, now);
    if (!found) return false;
    found.used = now;
    if (now - this.noted > NOTED) {
      this.noted = now;
      // That a browser was used is worth no request: what cannot be written now is written the next time.
      this.write().catch(() => {
        this.noted = 0;
      });
    }
    return true;
  }

  /** Those that are let in, the one used last first. */
  list(now = Date.now()): PublicSession[] {
    return [...this.all.values()]
      .filter(({ used }) => used + 1000 * SESSION_SECONDS > now)
      .sort((a, b) => b.used - a.used)
      .map(({ ticket: _, ...session }) => session);
  }

  /** Id of the session of a ticket. */
  idOf(ticket: string): string | undefined {
    return this.all.get(hashOf(ticket))?.id;
  }

  /** Ends the session of a ticket. */
  async end(ticket: string): Promise<void> {
    if (this.all.delete(hashOf(ticket))) await this.write();
  }

  /** Ends all but the session of a ticket; all where none is given. */
  async endOthers(ticket = ''): Promise<void> {
    for (const key of this.all.keys()) if (key !== hashOf(ticket)) this.all.delete(key);
    await this.write();
  }

  /** One after the other, each with what there is by then. */
  private write(): Promise<void> {
    const next = this.writing
      .catch(() => undefined)
      .then(() => {
        const text = JSON.stringify({ password: this.password, sessions: [...this.all.values()] });
        return writeAtomically(fileOf(this.root), [Buffer.from(text)], 0o600);
      });
    this.writing = next;
    return next;
  }
}
