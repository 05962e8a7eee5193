import { createHmac, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { jsonIn } from '../../core/json';
import { writeWhole } from '../io/write';

/** scrypt's cost (RFC 7914): 64 MB and about a quarter of a second a try. */
const COST = { N: 2 ** 16, r: 8, p: 1, maxmem: 2 ** 27 } as const;
const BYTES = 32;
/** Letters that a password has at least, and at most. */
const LETTERS = [10, 200] as const;
/** How long a browser stays let in, seconds. */
export const STAY = 30 * 24 * 3600;

const hex = z.string().regex(/^[0-9a-f]+$/);
const schema = z.strictObject({
  scrypt: z.strictObject({ N: z.int(), r: z.int(), p: z.int(), salt: hex, hash: hex }),
  /** Signs the tickets of browsers; another password brings another secret, so that all of them end. */
  secret: hex,
});
type Kept = z.output<typeof schema>;

const fileOf = (root: string): string => join(root, 'password.json');

const derived = (password: string, salt: Buffer, { N, r, p }: { N: number; r: number; p: number }): Promise<Buffer> =>
  new Promise((resolve, reject) => {
    scrypt(password.normalize('NFC'), salt, BYTES, { N, r, p, maxmem: COST.maxmem }, (fault, key) =>
      fault ? reject(fault) : resolve(key),
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
      `This password has ${length} letters; take at least ${LETTERS[0]}: four words are easy to keep in mind.`,
    );
  if (length > LETTERS[1])
    throw new UserError('weak-password', `A password may have ${LETTERS[1]} letters at most; take a shorter one.`);
  if (new Set(password).size < 4)
    throw new UserError('weak-password', 'This password is nearly one letter alone; take another.');
  const salt = randomBytes(16);
  const { N, r, p } = COST;
  const hash = await derived(password, salt, COST);
  const kept: Kept = {
    scrypt: { N, r, p, salt: salt.toString('hex'), hash: hash.toString('hex') },
    secret: randomBytes(BYTES).toString('hex'),
  };
  await writeWhole(fileOf(root), [Buffer.from(JSON.stringify(kept))], 0o600);
}

export const removePassword = (root: string): Promise<void> => rm(fileOf(root), { force: true });

/** What lets people in by a password. */
export interface Lock {
  /** Whether a password is the one that was set. */
  opens(password: string): Promise<boolean>;
  /** A ticket for a browser that was let in. */
  ticket(now?: number): string;
  /** Whether a ticket is one of ours and has not run out. */
  admits(ticket: string, now?: number): boolean;
}

/**
 * The lock of a folder.
 * @returns undefined where no password is set
 * @throws UserError where the file cannot be read
 */
export async function lockOf(root: string): Promise<Lock | undefined> {
  const text = await readFile(fileOf(root), 'utf8').catch((fault: NodeJS.ErrnoException) => {
    if (fault.code === 'ENOENT') return undefined;
    throw fault;
  });
  if (text === undefined) return undefined;
  const kept = schema.safeParse(jsonIn(text)).data;
  if (!kept) throw new UserError('bad-password-file', `${fileOf(root)} is damaged; set the password anew.`);
  const { scrypt: how, secret } = kept;
  const signed = (until: string): Buffer => createHmac('sha256', secret).update(until).digest();
  return {
    async opens(password) {
      if (password.length > 4 * LETTERS[1]) return false;
      return timingSafeEqual(await derived(password, Buffer.from(how.salt, 'hex'), how), Buffer.from(how.hash, 'hex'));
    },
    ticket(now = Date.now()) {
      const until = String(Math.floor(now / 1000) + STAY);
      return `${until}.${signed(until).toString('hex')}`;
    },
    admits(ticket, now = Date.now()) {
      const [, until, signature] = /^(\d{1,12})\.([0-9a-f]{64})$/.exec(ticket) ?? [];
      if (until === undefined || signature === undefined) return false;
      const given = Buffer.from(signature, 'hex');
      const own = signed(until);
      return timingSafeEqual(given, own) && Number(until) * 1000 > now;
    },
  };
}
