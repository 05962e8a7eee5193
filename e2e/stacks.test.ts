import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addNoise, scene } from '@owl-loom/testing/random';
import { encodeTiff } from '../apps/server/codecs/tiff';
import { AppFixture, stackFile } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [300, 220];
let evening: AppFixture;
let hand: PageDriver;
let page: Page;
let targetId: string;

const file = (name: string): string => join(evening.root, name);
const ask = async <T>(path: string, init?: RequestInit): Promise<T> =>
  (await (await fetch(`${evening.running.address}/api${path}`, init)).json()) as T;
const send = <T>(path: string, body: object): Promise<T> =>
  ask<T>(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });

interface Row {
  readonly name: string;
  readonly fileName: string;
  readonly divisor: number;
  readonly wavelength: number | null;
  readonly edgesBlank: boolean;
  readonly pixels: string;
  readonly figures: { readonly planes: readonly { readonly noData: number; readonly sky: number }[] };
}
const rows = (): Promise<Row[]> => ask(`/targets/${targetId}/stacks`);
const row = async (name: string): Promise<Row | undefined> => (await rows()).find((one) => one.name === name);

/** Types a number into a field and leaves it. */
async function type(label: string, value: string): Promise<void> {
  const field = await page.waitForSelector(`::-p-aria(${label})`);
  await field?.click({ count: 3 });
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand } = evening);
  page = hand.page;
  const of = (seed: number) => addNoise(scene(7, width, height, { stars: 90 }), 0, 1, 0.0006, seed);
  const edged = of(2);
  for (let y = 0; y < height; y++) edged.fill(0, y * width, y * width + 30);
  await writeFile(file('set_R.fits'), stackFile('R', of(1), width, height));
  await writeFile(file('set_G.fits'), stackFile('G', edged, width, height));
  await writeFile(file('newer_R.fits'), stackFile('R', of(3), width, height));
  await writeFile(
    file('set_B.tif'),
    Buffer.concat(encodeTiff({ width, height, planes: [of(4)], stretched: false }, 16)),
  );
  await writeFile(file('words.fits'), 'no stars');
  targetId = (await send<{ id: string }>('/targets', { name: 'Sorting' })).id;
  await page.goto(`${evening.running.address}/targets/${targetId}/stacks`);
});

afterAll(() => evening?.end());

describe('sorting out a set of stacks', () => {
  it('takes many files at once, and says of the one that is none what is wrong with it', async () => {
    const input = await page.waitForSelector('input[type="file"]');
    await input?.uploadFile(...['set_R.fits', 'set_G.fits', 'set_B.tif', 'words.fits'].map(file));
    await hand.until('three stacks', async () => (await page.$$('tbody tr')).length === 3);
    await hand.until('the refusal', async () => (await hand.text('body')).includes('words.fits'));
    expect(await row('B')).toMatchObject({ fileName: 'set_B.tif', divisor: 65535, wavelength: 450 });
  });

  it('points out the one of another scale, and takes that it is right so', async () => {
    await hand.until('the odd one', async () => (await hand.text('body')).includes('B uses 65535'));
    await hand.press('Dismiss');
    await hand.until('no word of it', async () => !(await hand.text('body')).includes('B uses 65535'));
  });

  it('offers zeros at the edge as no data, and takes them so', async () => {
    await hand.until('the offer', async () => (await hand.text('body')).includes('G has zeros at the edge (10.0 %)'));
    await hand.press('Treat as no data');
    await hand.until('no data there', async () => (await row('G'))?.edgesBlank);
    expect((await row('G'))?.figures.planes[0].noData).toBeCloseTo(0.1, 6);
    await hand.until('no offer', async () => !(await hand.text('body')).includes('zeros at the edge'));
  });

  it('changes the scale of one stack, then of the whole set, in the column that shows it', async () => {
    await type('Full scale of R', '2');
    await hand.until('half', async () => (await row('R'))?.divisor === 2);
    await hand.press(/^Full scale/);
    await hand.entry('Detect from files');
    await hand.until('all as the files say', async () =>
      (await rows()).every(({ name, divisor }) => divisor === (name === 'B' ? 65535 : 1)),
    );
  });

  it('keeps a filter of any name with its wavelength', async () => {
    await type('Filter of B', 'Moonlight');
    await hand.until('no wavelength', async () => (await row('B'))?.wavelength === null);
    await type('Wavelength of B in nanometres', '431.5');
    await hand.until('its own', async () => (await row('B'))?.wavelength === 431.5);
  });

  it('puts a newer file in the place of a stack; the recipe keeps its strand and weaves with the new pixels', async () => {
    const body = {
      format: 'owl-loom-recipe',
      version: 1,
      name: 'One',
      strands: [{ id: 'R', from: { stack: 'R' }, steps: [] }],
    };
    const { id } = await send<{ id: string }>(`/targets/${targetId}/recipes`, { body });
    const before = await row('R');
    const input = await page.waitForSelector('input[aria-label="A newer file for R"]');
    await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(file('newer_R.fits'));
    await hand.until('the newer file', async () => (await row('R'))?.fileName === 'newer_R.fits');
    expect((await row('R'))?.pixels).not.toBe(before?.pixels);
    await page.goto(`${evening.running.address}/targets/${targetId}/loom/${id}`);
    await page.waitForSelector('[data-path="strands[0]"]');
    await hand.click('[data-path="strands[0]"]');
    await hand.until('its picture', () => page.$('[data-testid="picture"][data-shown="strands[0]"]'));
    expect(await hand.text('[data-testid="bench"]')).toContain('newer_R.fits');
  });

  it('all along, the page has made no complaint', () => expect(hand.troubles).toEqual([]));
});
describe('pages', () => {
  it('that were left, one after the other, take no line to the server from those that come after', async () => {
    for (let i = 0; i < 9; i++) {
      await page.goto(`${evening.running.address}/targets/${targetId}/stacks?visit=${i}`);
      await page.waitForSelector('table', { timeout: 8000 });
    }
  });
});
