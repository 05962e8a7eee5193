import { afterAll, beforeAll, expect, it } from 'vitest';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import type { Recipe } from '@owl-loom/recipe/schema';
import { requestJson, json } from '../apps/server/http/request-json';
import { AppFixture, lineRecipe, threeLines } from './evening';
import { PageDriver } from './hand';

const [width, height] = [260, 200];
let evening: AppFixture;
let hand: PageDriver;
let target: string;

beforeAll(async () => {
  evening = await AppFixture.begin();
  hand = evening.hand;
  ({ targetId: target } = await evening.weave(threeLines(41, width, height), { width, height }, lineRecipe));
});
afterAll(() => evening.end());

interface Row {
  id: string;
  fileName: string;
  format: string;
  width: number;
  height: number;
  sum: string;
  request: { caption?: string; quality?: number };
}
const rows = () => requestJson<Row[]>(evening.running.address, `/targets/${target}/exports`);
const type = async (label: string, text: string) => {
  const field = await hand.until(`a field ${label}`, async () => {
    for (const one of await hand.page.$$('[role="dialog"] label'))
      if ((await one.evaluate((node) => node.querySelector('span')?.textContent)) === label)
        return one.$('input, textarea');
    return undefined;
  });
  await field.click({ count: 3 });
  await field.type(text);
};

it('several files are asked for in one press, of a part in two other sizes, with words', async () => {
  await hand.press('Export …');
  await hand.press('JPEG');
  await hand.press('Print format');
  await hand.press('Portrait');
  await hand.press('Pixels');
  await type('Width, px', '90');
  await type('More widths, px', '45');
  await type('title', 'Night {one}');
  await type('File name', '{{}target}-{{}width}'.replaceAll('{{}', '{'));
  await hand.press('OIII', '[role="dialog"]');
  await hand.until('what will be written', async () =>
    /TIFF, 16 bit: 90 wide [\s\S]*JPEG, 8 bit: 90 wide about.*, 45 wide about[\s\S]*FITS, 32 bit, OIII/.test(
      await hand.text('[aria-label="Files"]'),
    ),
  );
  await hand.page.keyboard.press('Tab');
  await hand.press('Export', '[role="dialog"]');
  const made = await hand.until('five files', async () => {
    const all = await rows();
    return all.length === 5 && all;
  });
  const of = (format: string, wide?: number) =>
    made.find((row) => row.format === format && (wide === undefined || row.width === wide));
  // 2:3 of the height of 200 is 133 wide; in 90 that is 135 high.
  expect(of('tif', 90)).toMatchObject({ width: 90, height: 135, fileName: 'night-90.tif' });
  expect(of('tif', 45)).toMatchObject({ width: 45, height: 68, fileName: 'night-45.tif' });
  expect(of('jpg', 90)).toMatchObject({ width: 90, request: { title: 'Night {one}', quality: 92 } });
  expect(of('fits')).toMatchObject({ width, height });
});

it('a page to show opens without a server, is zoomed and moved', async () => {
  const { address } = evening.running;
  const [{ id: recipeId }] = (await requestJson<{ recipes: { id: string }[] }>(address, `/targets/${target}`)).recipes;
  await requestJson(
    address,
    `/targets/${target}/exports`,
    json('POST', { recipeId, format: 'html', title: 'To show' }),
  );
  const row = await hand.until('the page', async () => (await rows()).find(({ format }) => format === 'html'));
  const other = await PageDriver.open();
  await other.page.goto(`file://${join(evening.root, 'exports', `${row.id}.html`)}`);
  await other.until('its picture', () => other.pictured('#picture'));
  const how = () => other.page.$eval('#picture', (node) => (node as HTMLElement).style.transform);
  const before = await other.until('it laid out', how);
  await other.page.mouse.move(500, 300);
  await other.page.mouse.wheel({ deltaY: -900 });
  const closer = await other.until('a closer look', async () => (await how()) !== before && (await how()));
  expect(Number(/scale\(([\d.]+)/.exec(closer)?.[1])).toBeGreaterThan(3);
  await other.dragFrom(500, 300, -60, -40);
  await other.until('another part', async () => (await how()) !== closer);
  await other.page.keyboard.press('0');
  await other.until('all of it again', async () => (await how()) === before);
  expect(await other.text('h1')).toBe('To show');
  expect(other.troubles).toEqual([]);
  await other.close();
  await requestJson(address, `/exports/${row.id}`, { method: 'DELETE' });
});

it('a picture that was woven here gives its recipe back when it is dropped on a target, or comes in as a stack', async () => {
  const { address } = evening.running;
  const row = (await rows()).find(({ format }) => format === 'tif');
  const other = await evening.another();
  const file = join(evening.root, 'Back.tif');
  await copyFile(join(evening.root, 'exports', `${row?.id}.tif`), file);
  await other.page.goto(`${address}/targets/${target}/stacks`);
  const drop = async () => {
    const input = (await other.page.waitForSelector(
      'footer input[type="file"]',
    )) as ElementHandle<HTMLInputElement> | null;
    await input?.uploadFile(file);
    await other.until('word of its recipe', async () =>
      (await other.text('main')).includes('contains the recipe Layers'),
    );
  };
  await drop();
  await other.press('Open the recipe');
  await other.page.waitForSelector('[data-shown="cloth"]');
  const { recipes } = await requestJson<{ recipes: { id: string; name: string }[] }>(address, `/targets/${target}`);
  expect(recipes.map(({ name }) => name)).toEqual(['Layers', 'Layers']);
  const { body } = await requestJson<{ body: Recipe }>(address, `/recipes/${recipes[0].id}`);
  expect(body).toEqual(lineRecipe);
  await other.press('Stacks');
  await drop();
  await other.press('Import as stack');
  await other.until(
    'a fourth stack',
    async () => (await requestJson<unknown[]>(address, `/targets/${target}/stacks`)).length === 4,
  );
  await requestJson(address, `/recipes/${recipes[0].id}`, { method: 'DELETE' });
  expect(other.troubles).toEqual([]);
  await other.close();
});

it('remembers what was chosen, and makes a file again the same to the bit', async () => {
  await hand.press('Export …');
  // Enter alone writes what was written last.
  await hand.until('the main press', () => hand.page.evaluate(() => document.activeElement?.textContent === 'Export'));
  await hand.until('the same choice', async () =>
    hand.page
      .$$eval('[role="dialog"] [aria-pressed="true"]', (all) => all.map((one) => one.textContent).join())
      .then((all) => /TIFF.*JPEG/.test(all) && /Portrait/.test(all)),
  );
  await hand.page.keyboard.press('Escape');
  await hand.press('Exports');
  await hand.until('their pictures', () => hand.pictured('main img', 5));
  await hand.press('Export again, bit-identical');
  const all = await hand.until('a sixth', async () => {
    const now = await rows();
    return now.length === 6 && now;
  });
  expect(new Set(all.map(({ sum }) => sum)).size).toBe(5);
  expect(hand.troubles).toEqual([]);
});
