import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { STAY, lockOf, removePassword, setPassword } from './password';

let root: string;
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-password-'));
});
afterAll(() => rm(root, { recursive: true, force: true }));

it('opens for the password alone, and for the same letters written otherwise', async () => {
  expect(await lockOf(root)).toBeUndefined();
  await setPassword(root, 'grüne Lampe am Fenster');
  const lock = await lockOf(root);
  expect(await lock?.opens('grüne Lampe am Fenster')).toBe(true);
  expect(await lock?.opens('grüne Lampe am Fenster'.normalize('NFD'))).toBe(true);
  for (const other of ['', 'grüne Lampe am Fenste', 'grune Lampe am Fenster', 'x'.repeat(5000)])
    expect(await lock?.opens(other)).toBe(false);
});

it('keeps neither the password nor anything that others may read', async () => {
  const path = join(root, 'password.json');
  expect(await readFile(path, 'utf8')).not.toMatch(/Lampe/);
  expect((await stat(path)).mode & 0o077).toBe(0);
  const before = await readFile(path, 'utf8');
  await setPassword(root, 'grüne Lampe am Fenster');
  expect(await readFile(path, 'utf8')).not.toBe(before);
});

it('gives tickets that run out, cannot be made or lengthened, and end with the password', async () => {
  const lock = await lockOf(root);
  if (!lock) throw new Error('no lock');
  const now = Date.now();
  const ticket = lock.ticket(now);
  expect(lock.admits(ticket, now)).toBe(true);
  expect(lock.admits(ticket, now + 1000 * (STAY - 2))).toBe(true);
  expect(lock.admits(ticket, now + 1000 * (STAY + 2))).toBe(false);
  const [until, signature] = ticket.split('.');
  for (const bad of ['', '.', `${Number(until) + 9999}.${signature}`, `${until}.`, `${until}.${'0'.repeat(64)}`, until])
    expect(lock.admits(bad, now)).toBe(false);
  await setPassword(root, 'another one altogether');
  expect((await lockOf(root))?.admits(ticket, now)).toBe(false);
});

it.each([
  ['a', /has 1 letters; take at least 10/],
  ['aaaaaaaaaaaaaa', /nearly one letter alone/],
  ['ab'.repeat(150), /200 letters at most/],
])('refuses %s as a password', async (password, says) => {
  await expect(setPassword(root, password)).rejects.toMatchObject({
    code: 'weak-password',
    message: expect.stringMatching(says),
  });
});

it('is taken away, and a damaged file is no open door', async () => {
  await writeFile(join(root, 'password.json'), '{"scrypt":');
  await expect(lockOf(root)).rejects.toMatchObject({ code: 'bad-password-file' });
  await removePassword(root);
  expect(await lockOf(root)).toBeUndefined();
});
