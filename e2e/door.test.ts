import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type RunningServer, startAll } from '../apps/server/main/start';
import { HOME } from '../apps/server/system/home';
import { setPassword } from '../apps/server/system/password';
import { PageDriver } from './hand';

process.env.LOOM_LOG = 'silent';
let root: string;
let running: RunningServer;
let hand: PageDriver;
const password = 'four words in mind';

beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'owl-loom-door-'));
  await setPassword(root, password);
  running = await startAll({ root, port: 0, address: '0.0.0.0', web: join(HOME, 'dist/web'), gentle: false });
  hand = await PageDriver.open();
  hand.expected = /401/;
});
afterAll(async () => {
  await hand.close();
  await running.stop();
  await rm(root, { recursive: true, force: true });
});

it('a page from elsewhere asks for the password, says when it is wrong, and is locked again by hand', async () => {
  await hand.page.goto(`http://127.0.0.1:${new URL(running.address).port}/`);
  const field = await hand.page.waitForSelector('input[type="password"]');
  expect(await hand.text('body')).not.toContain('The shelf');
  await field?.type('some other words');
  await hand.page.keyboard.press('Enter');
  await hand.until('why not', async () => (await hand.text('body')).includes('Wrong password.'));
  await field?.click({ count: 3 });
  await field?.type(password);
  await Promise.all([hand.page.waitForNavigation(), hand.press('Unlock')]);
  await hand.until('the shelf', async () => (await hand.text('body')).includes('The shelf is empty'));
  await hand.page.reload();
  await hand.until('the shelf', async () => (await hand.text('body')).includes('The shelf is empty'));
  await hand.page.goto(`${hand.page.url()}health`);
  await Promise.all([hand.page.waitForNavigation(), hand.press('Lock this browser')]);
  await hand.page.waitForSelector('input[type="password"]');
  expect(hand.troubles).toEqual([]);
});
