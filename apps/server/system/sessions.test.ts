import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { SESSION_SECONDS, Sessions } from './sessions';

let root: string;
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-sessions-'));
});
afterAll(() => rm(root, { recursive: true, force: true }));
const caller = { from: '10.0.0.7', agent: 'a browser' };
const DAY = 24 * 3600 * 1000;

it('admits a ticket for as long as it is used, and thirty days beyond', async () => {
  const sessions = await Sessions.of(root, 'salt');
  const start = Date.now();
  const ticket = await sessions.begin(caller, start);
  for (let day = 0; day <= 100; day += 25) expect(sessions.isValidToken(ticket, start + day * DAY)).toBe(true);
  expect(sessions.isValidToken(ticket, start + 100 * DAY + 1000 * SESSION_SECONDS)).toBe(false);
  for (const bad of ['', ticket.slice(1), `${ticket}0`, `${ticket.slice(0, -1)}g`])
    expect(sessions.isValidToken(bad, start)).toBe(false);
  await sessions.end(ticket);
  expect(sessions.isValidToken(ticket, start)).toBe(false);
});

it('keeps them over a start, nothing by which one could come in, and for nobody else to read', async () => {
  const sessions = await Sessions.of(root, 'salt');
  const ticket = await sessions.begin(caller);
  expect((await Sessions.of(root, 'salt')).isValidToken(ticket)).toBe(true);
  const path = join(root, 'sessions.json');
  expect(await readFile(path, 'utf8')).not.toContain(ticket);
  expect((await stat(path)).mode & 0o077).toBe(0);
});

it('ends all with another password, and where what was kept is damaged', async () => {
  const ticket = await (await Sessions.of(root, 'salt')).begin(caller);
  expect((await Sessions.of(root, 'other salt')).isValidToken(ticket)).toBe(false);
  await writeFile(join(root, 'sessions.json'), '{"password":"salt"');
  expect((await Sessions.of(root, 'salt')).list()).toEqual([]);
});

it('ends one, or all others', async () => {
  const sessions = await Sessions.of(root, 'three');
  const tickets = [await sessions.begin(caller), await sessions.begin(caller), await sessions.begin(caller)];
  await sessions.end(tickets[0]);
  const admitted = () => tickets.map((ticket) => sessions.isValidToken(ticket));
  expect(admitted()).toEqual([false, true, true]);
  expect(sessions.list()).toHaveLength(2);
  expect(JSON.stringify(sessions.list())).not.toMatch(/ticket/);
  await sessions.endOthers(tickets[2]);
  expect(admitted()).toEqual([false, false, true]);
  expect((await Sessions.of(root, 'three')).list().map(({ id }) => id)).toEqual([sessions.idOf(tickets[2])]);
  await sessions.endOthers();
  expect(sessions.list()).toEqual([]);
});

it('holds two hundred, the ones used last', async () => {
  const sessions = await Sessions.of(root, 'many');
  const first = await sessions.begin(caller, 1_000_000_000_000);
  let last = '';
  for (let i = 1; i <= 200; i++) last = await sessions.begin(caller, 1_000_000_000_000 + i);
  expect(sessions.isValidToken(first, 1_000_000_001_000)).toBe(false);
  expect(sessions.isValidToken(last, 1_000_000_001_000)).toBe(true);
});
