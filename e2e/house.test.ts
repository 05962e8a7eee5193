import { open, readFile, readdir, rm, unlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { requestJson, json } from '../apps/server/http/request-json';
import { Client } from '../apps/server/cli/client';
import type { PublicJob } from '@owl-loom/api/jobs';
import { AppFixture, lineRecipe, stackFile, threeLines } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [260, 180];
let evening: AppFixture;
let hand: PageDriver;
let target: string;
let id: string;
const planes = threeLines(97, width, height);

interface Row {
  id: string;
  name: string;
  hash: string;
  pixels: string;
  lacking: string | null;
}

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand } = evening);
  ({ targetId: target, recipeId: id } = await evening.weave(planes, { width, height }, lineRecipe));
});
afterAll(async () => {
  await evening?.end();
  await rm(`${evening.root}-backup`, { recursive: true, force: true });
});

const get = <T>(path: string) => requestJson<T>(evening.running.address, path);
const go = (path: string) => hand.page.goto(evening.running.address + path);
const stacks = () => get<Row[]>(`/targets/${target}/stacks`);
const bright = async () => Math.max(...(await hand.picture())) > 5;

async function scratch(path: string): Promise<void> {
  const file = await open(path, 'r+');
  await file.write(Buffer.from('scratched'), 0, 9, 2000);
  await file.close();
}

describe('the trash', () => {
  it('takes a target from the shelf, and gives it back by the message that says so', async () => {
    await go('/');
    await hand.press('More actions for Night');
    await hand.entry('Move to trash');
    await hand.until('an empty shelf', async () => (await hand.text('main')).includes('The shelf is empty'));
    await hand.press('Undo');
    await hand.until('the target', async () => (await hand.text('main')).includes('Night'));
  });

  it('lists what lies in it, brings it back, and lets go of it for good when it is asked twice', async () => {
    await go(`/targets/${target}/loom/${id}`);
    await hand.page.waitForSelector('[data-shown="cloth"]');
    await hand.press('Recipes');
    await hand.entry('Move to trash');
    await hand.until('its message', async () => (await hand.text('body')).includes('Layers moved to trash.'));
    await go('/trash');
    await hand.until('its row', async () => (await hand.text('main')).includes('Recipe with history · Night'));
    await hand.press('Restore');
    await hand.until('an empty trash', async () => (await hand.text('main')).includes('The trash is empty.'));
    await go(`/targets/${target}/loom/${id}`);
    await hand.page.waitForSelector('[data-shown="cloth"]');
    const spare = await requestJson<{ id: string }>(
      evening.running.address,
      '/targets',
      json('POST', { name: 'Spare' }),
    );
    await requestJson(evening.running.address, `/targets/${spare.id}`, { method: 'DELETE' });
    await go('/trash');
    await hand.press('Empty the trash');
    await hand.press('Cancel');
    expect(await get<unknown[]>('/trash')).toHaveLength(1);
    await hand.press('Empty the trash');
    await hand.press('Delete permanently');
    await hand.until('an empty trash', async () => (await hand.text('main')).includes('The trash is empty.'));
    expect(await get<unknown[]>('/trash')).toEqual([]);
  });
});

describe('damage', () => {
  it('to pixels mends itself while the page waits, and the page says so', async () => {
    const rows = await stacks();
    for (const { pixels } of rows) {
      const dir = join(evening.root, 'pixels', pixels);
      for (const name of await readdir(dir)) if (name.endsWith('.f32')) await scratch(join(dir, name));
    }
    await hand.page.setCacheEnabled(false);
    hand.expected = /503/;
    await go(`/targets/${target}/loom/${id}`);
    // The message stays for a few seconds, and may go before the picture is there.
    await Promise.all([
      hand.until('its message', async () => (await hand.text('body')).includes('repaired.')),
      hand.page.waitForSelector('[data-shown="cloth"]').then(() => hand.until('a picture', bright)),
    ]);
    await hand.page.setCacheEnabled(true);
    hand.expected = undefined;
  });

  it('to a file is told on the Stacks screen, and mended by the file', async () => {
    const [ha] = await stacks();
    await scratch(join(evening.root, 'stacks', `${ha.hash}.fits`));
    await unlink(join(evening.root, 'pixels', ha.pixels, 'level-0.f32'));
    await go('/health');
    await hand.press('Check');
    await hand.until('what was found', async () =>
      (await hand.text('main')).includes(`The original file of ${ha.name} of Night is damaged`),
    );
    await go(`/targets/${target}/stacks`);
    await hand.until('the sentence', async () =>
      (await hand.text('body')).includes(`The original file of ${ha.name} is damaged. Drop night_${ha.name}.fits`),
    );
    const path = join(evening.root, 'again.fits');
    await writeFile(path, stackFile(ha.name, planes[ha.name], width, height));
    const input = (await hand.page.$('input[type="file"][multiple]')) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(path);
    await hand.until('no sentence', async () => !(await hand.text('body')).includes('is damaged.'));
    await hand.until('all whole', async () => (await stacks()).every(({ lacking }) => lacking === null));
  });
});

it('a target is packed, and unpacked by dropping the file on the shelf', async () => {
  await go('/');
  await hand.press('More actions for Night');
  await hand.entry('Save as archive …');
  await hand.press('Save archive');
  await hand.until('the file', async () => (await hand.text('body')).includes('The archive of Night is ready.'));
  const job = (await get<PublicJob[]>('/jobs')).find(({ kind }) => kind === 'archive');
  const response = await fetch(`${evening.running.address}/api/archives/${job?.id}/file`);
  const path = join(evening.root, 'night.zip');
  await writeFile(path, Buffer.from(await response.arrayBuffer()));
  expect((await readFile(path)).subarray(0, 2).toString()).toBe('PK');
  await requestJson(evening.running.address, `/targets/${target}`, { method: 'DELETE' });
  await requestJson(evening.running.address, '/trash', { method: 'DELETE' });
  await go('/');
  await hand.until('an empty shelf', async () => (await hand.text('main')).includes('The shelf is empty'));
  const input = (await hand.page.$('input[aria-label="A target archive"]')) as ElementHandle<HTMLInputElement>;
  await input.uploadFile(path);
  await hand.until('its message', async () =>
    (await hand.text('body')).includes('Night opened: 3 stacks, 1 recipe, 1 version.'),
  );
  await go(`/targets/${target}/loom/${id}`);
  await hand.page.waitForSelector('[data-shown="cloth"]');
  await hand.until('a picture', bright);
});

it('backups are set and made on the page Health, which says when that was', async () => {
  await go('/health');
  const field = await hand.page.waitForSelector('input[name="dir"]');
  await field?.type(`${evening.root}-backup`);
  await hand.click('input[value="day"]');
  hand.expected = /403/;
  await hand.press('Save');
  const allow = `./loom backup --allow ${evening.root}-backup`;
  await hand.until('why not', async () => (await hand.text('body')).includes(allow));
  await new Client(evening.running.command).post('/backups/places', { dir: `${evening.root}-backup` });
  await hand.press('Save');
  await hand.until('it done', async () => (await hand.text('main')).includes('Last backup less than a minute ago'));
  // The browser may write down the refusal after the page has shown it.
  hand.expected = undefined;
  expect(await readdir(`${evening.root}-backup/runs`)).toHaveLength(1);
});

it('nothing went wrong on the page', () => expect(hand.troubles).toEqual([]));
