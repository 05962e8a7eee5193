import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { PasswordAuth, removePassword, setPassword } from './password';

let root: string;
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-password-'));
});
afterAll(() => rm(root, { recursive: true, force: true }));

it('opens for the password alone, and for the same letters written otherwise', async () => {
  expect(await PasswordAuth.of(root)).toBeUndefined();
  await setPassword(root, 'grüne Lampe am Fenster');
  const lock = await PasswordAuth.of(root);
  expect(await lock?.verify('grüne Lampe am Fenster')).toBe(true);
  expect(await lock?.verify('grüne Lampe am Fenster'.normalize('NFD'))).toBe(true);
  for (const other of ['', 'grüne Lampe am Fenste', 'grune Lampe am Fenster', 'x'.repeat(5000)])
    expect(await lock?.verify(other)).toBe(false);
});

it('keeps neither the password nor anything that others may read', async () => {
  const path = join(root, 'password.json');
  expect(await readFile(path, 'utf8')).not.toMatch(/Lampe/);
  expect((await stat(path)).mode & 0o077).toBe(0);
  const before = await readFile(path, 'utf8');
  await setPassword(root, 'grüne Lampe am Fenster');
  expect(await readFile(path, 'utf8')).not.toBe(before);
});

it('holds another password at once, and lets nobody in when it is taken away; whoever came in by one before is out', async () => {
  const lock = await PasswordAuth.of(root);
  if (!lock) throw new Error('no lock');
  const ticket = await lock.sessions.begin({ from: '::1', agent: '' });
  expect(lock.sessions.isValidToken(ticket)).toBe(true);
  await setPassword(root, 'another one altogether');
  expect(lock.sessions.isValidToken(ticket)).toBe(false);
  expect(await lock.verify('grüne Lampe am Fenster')).toBe(false);
  expect(await lock.verify('another one altogether')).toBe(true);
  const next = await lock.sessions.begin({ from: '::1', agent: '' });
  expect((await PasswordAuth.of(root))?.sessions.isValidToken(next)).toBe(true);
  await removePassword(root);
  expect(lock.sessions.isValidToken(next)).toBe(false);
  await expect(lock.verify('another one altogether')).rejects.toMatchObject({ code: 'no-password' });
  await setPassword(root, 'another one altogether');
  expect(lock.sessions.isValidToken(next)).toBe(false);
});

it('looks at one password after the other, and turns away more than a few that wait', async () => {
  const lock = await PasswordAuth.of(root);
  if (!lock) throw new Error('no lock');
  const tries = await Promise.allSettled(Array.from({ length: 23 }, () => lock.verify('none of these')));
  expect(tries.filter(({ status }) => status === 'rejected')).toHaveLength(3);
  expect(await lock.verify('another one altogether')).toBe(true);
}, 30_000);

it.each([
  ['a', /too short: at least 10 characters/],
  ['aaaaaaaaaaaaaa', /nearly one letter alone. Take four words/],
  ['password123', /is one of the commonest. Take four words/],
  ['qwertyuiop', /is one of the hundred commonest/],
  ['Passw0rd!!', /is like one of the commonest/],
  ['2011201320', /is little more than a date/],
  ['ab'.repeat(150), /at most 200 characters/],
])('refuses %s as a password', async (password, says) => {
  await expect(setPassword(root, password)).rejects.toMatchObject({
    code: 'weak-password',
    message: expect.stringMatching(says),
  });
});

it('is taken away, and a damaged file is no open door', async () => {
  await writeFile(join(root, 'password.json'), '{"scrypt":');
  await expect(PasswordAuth.of(root)).rejects.toMatchObject({ code: 'bad-password-file' });
  await removePassword(root);
  expect(await PasswordAuth.of(root)).toBeUndefined();
});
