import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { readFileSync, statSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import { writeAtomically } from './write-atomically';
import { Sessions } from './sessions';
import { weakness } from './weak-password';

/** scrypt's cost (RFC 7914): 64 MB and about a quarter of a second a try. */
const COST = { N: 2 ** 16, r: 8, p: 1, maxmem: 2 ** 27 } as const;
const BYTES = 32;
/** Letters that a password has at least, and at most. */
const LETTERS = [10, 200] as const;

const hex = z.string().regex(/^[0-9a-f]+$/);
const schema = z.strictObject({
  scrypt: z.strictObject({ N: z.int(), r: z.int(), p: z.int(), salt: hex, hash: hex }),
  /** Of earlier versions, which signed the tickets of browsers by it. */
  secret: hex.optional(),
});
type Kept = z.output<typeof schema>;

const fileOf = (root: string): string => join(root, 'password.json');

const derived = (password: string, salt: Buffer, { N, r, p }: { N: number; r: number; p: number }): Promise<Buffer> =>
  new Promise((resolve, reject) => {
    scrypt(password.normalize('NFC'), salt, BYTES, { N, r, p, maxmem: COST.maxmem }, (error, key) =>
      error ? reject(error) : resolve(key),
    );
  });

/**
 * Keeps a password, as what scrypt makes of it.
 * @throws UserError where it is too short to keep anyone out
 */
export async function setPassword(root: string, password: string): Promise<void> {
  const { length } = [...password];
  if (length < LETTERS[0])
    throw new UserError(
      'weak-password',
      `Password too short: at least ${LETTERS[0]} characters (four words are easy to remember).`,
    );
  if (length > LETTERS[1]) throw new UserError('weak-password', `Password too long: at most ${LETTERS[1]} characters.`);
  const why = await weakness(password);
  if (why)
    throw new UserError(
      'weak-password',
      `Password too simple: it ${why}. Take four words that do not belong together.`,
    );
  const salt = randomBytes(16);
  const { N, r, p } = COST;
  const hash = await derived(password, salt, COST);
  const kept: Kept = {
    scrypt: { N, r, p, salt: salt.toString('hex'), hash: hash.toString('hex') },
  };
  await writeAtomically(fileOf(root), [Buffer.from(JSON.stringify(kept))], 0o600);
}

export const removePassword = (root: string): Promise<void> => rm(fileOf(root), { force: true });

/** Asks that may wait while a password is being looked at; more are turned away. */
const MOST_WAITING = 20;

/** What lets people in by the password of a folder. It is looked at again with every request: one that was set or taken away holds at once. */
export class PasswordAuth {
  private kept: Kept | undefined;
  /** Which file was read last. */
  private mark: string;
  private waiting = 0;
  private turn: Promise<unknown> = Promise.resolve();
  private current: Sessions;

  private constructor(
    private readonly root: string,
    kept: Kept,
    mark: string,
    sessions: Sessions,
  ) {
    this.kept = kept;
    this.mark = mark;
    this.current = sessions;
  }

  /**
   * The lock of a folder.
   * @returns undefined where no password is set
   * @throws UserError where the file cannot be read
   */
  static async of(root: string): Promise<PasswordAuth | undefined> {
    const mark = markOf(root);
    if (mark === GONE) return undefined;
    const kept = readKept(root);
    return new PasswordAuth(root, kept, mark, await Sessions.of(root, kept.scrypt.salt));
  }

  /** Reads the password anew where its file is another one. */
  private see(): void {
    const mark = markOf(this.root);
    if (mark === this.mark) return;
    // Whoever came in by the password before it is no longer let in, whatever becomes of reading this one.
    this.current = new Sessions(this.root, '');
    this.kept = undefined;
    this.mark = mark;
    if (mark === GONE) return;
    this.kept = readKept(this.root);
    this.current = new Sessions(this.root, this.kept.scrypt.salt);
  }

  /** The browsers that are let in just now. */
  get sessions(): Sessions {
    this.see();
    return this.current;
  }

  /**
   * Whether a password is the one that is set. One is looked at after the other: each takes a core for a quarter of a second.
   * @throws UserError where too many wait for it, or none is set any more
   */
  async verify(password: string): Promise<boolean> {
    this.see();
    const { kept } = this;
    if (!kept)
      throw new UserError('no-password', 'The password was removed. Set one with ./loom password, then unlock.');
    if (password.length > 4 * LETTERS[1]) return false;
    if (this.waiting >= MOST_WAITING)
      throw new UserError('too-many', 'Too many attempts at once. Try again in a few seconds.');
    this.waiting++;
    const own = this.turn.then(() => derived(password, Buffer.from(kept.scrypt.salt, 'hex'), kept.scrypt));
    this.turn = own.catch(() => undefined);
    try {
      return timingSafeEqual(await own, Buffer.from(kept.scrypt.hash, 'hex'));
    } finally {
      this.waiting--;
    }
  }
}

const GONE = 'gone';

/** What tells one password file from another. */
function markOf(root: string): string {
  try {
    const { ino, mtimeMs, size } = statSync(fileOf(root));
    return `${ino} ${mtimeMs} ${size}`;
  } catch (error) {
    const code = errorCodeOf(error);
    // Where the folder itself cannot be had, that is said when it is taken.
    if (code === 'ENOENT' || code === 'ENOTDIR') return GONE;
    throw error;
  }
}

/** @throws UserError where the file cannot be read */
function readKept(root: string): Kept {
  const kept = schema.safeParse(parseJsonOrUndefined(readFileSync(fileOf(root), 'utf8'))).data;
  if (!kept) throw new UserError('bad-password-file', `${fileOf(root)} is damaged; set the password anew.`);
  return kept;
}
