import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { AppFixture, lineRecipe, threeLines } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [420, 300];
let evening: AppFixture;
let hand: PageDriver;
let page: Page;
const until: PageDriver['until'] = (what, look) => hand.until(what, look);
const text = (selector: string) => hand.text(selector);
const press = (name: string | RegExp) => hand.press(name);
const kept = () => hand.kept();

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand } = evening);
  page = hand.page;
  await evening.weave(threeLines(94, width, height), { width, height }, lineRecipe);
});

afterAll(() => evening?.end());

describe('masks by touch, and what the picture is held against', () => {
  it('a layer is put on top', async () => {
    await press('layer');
    await hand.click('::-p-text(one strand)');
    await page.waitForSelector('[data-shown="cloth.layers[1]@cloth"]');
  });

  it('a mask is made of a hue by touching the picture, and of a place by drawing', async () => {
    await press('New mask');
    await hand.click('::-p-text(A hue in the cloth below)');
    await until('the picture to be touched', () => page.$('[data-shown="masks[0].of"]'));
    const middle = () => hand.field('centre');
    expect(await middle()).toBe(35);
    const box = await (await page.waitForSelector('[data-testid="picture"]'))?.boundingBox();
    if (!box) throw new Error('no picture');
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await until('the hue there', async () => (await middle()) !== 35);
    await until('the mask alone', () => page.$('[data-shown="masks[0]"]'));
    await hand.click('[data-path="cloth.layers[1]"]');
    await press('New mask');
    await hand.click('::-p-text(Draw an area …)');
    await page.waitForSelector('[data-path="masks[1]"][aria-pressed="true"]');
    await hand.dragFrom(box.x + box.width / 2 - 60, box.y + box.height / 2 - 40, 120, 80);
    const bench = (what: string) => async () => (await text('[data-testid="bench"]')).includes(what);
    await until('the place', bench('Ellipse: show'));
    // Back to what is seen through it, by key.
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.up('Shift');
    await page.waitForSelector('[data-path="cloth.layers[1]"][aria-pressed="true"]');
    await kept();
  });

  it('the picture is held against itself without the mask, a held state and a palette', async () => {
    await hand.click('[data-path="cloth.layers[1]"]');
    await page.waitForSelector('[data-shown="cloth.layers[1]@cloth"]');
    await page.keyboard.press('b');
    await until('two pictures', () => page.$('[data-compare="wipe"]'));
    const against = async (label: string) => {
      await hand.click('[aria-label="with"]');
      const option = await until(label, async () => {
        for (const one of await page.$$('[role="option"]'))
          if ((await one.evaluate((node) => node.textContent)) === label) return one;
        return undefined;
      });
      await option.evaluate((node) => (node as HTMLElement).scrollIntoView());
      await option.click();
      await until('it chosen', async () => (await text('[aria-label="with"]')) === label);
    };
    await against('Without its mask');
    await until('its name', async () => (await text('[data-testid="picture"]')).includes('without its mask'));
    for (let i = 0; i < 3; i++) await page.keyboard.press('b');
    // A letter goes through the ways of comparing, and leaves what is compared alone.
    expect(await text('[aria-label="with"]')).toBe('Without its mask');
    const differs = async () => Number(/([\d.]+) %\s+of the view/.exec(await text('[data-testid="picture"]'))?.[1]);
    await until('a difference', async () => (await differs()) > 0);
    await press('Set as reference state');
    await until('none', async () => (await differs()) === 0);
    await hand.click('[role="toolbar"] [aria-pressed="true"]');
    await page.keyboard.press('ArrowRight');
    await until('a difference from the held state', async () => (await differs()) > 0);
    await page.keyboard.press('Escape');
    await until('none once more', async () => (await differs()) === 0);
    await against('HOO');
    await until('a difference from the palette', async () => (await differs()) > 0);
    await press('Stop comparing');
    await kept();
  });

  it('a family of hues is told by touching the picture, and what is done to it is seen at once', async () => {
    await hand.click('[data-path="cloth"]');
    await press('Add a finishing step');
    await page.keyboard.type('green to gold');
    await page.keyboard.press('Enter');
    const step = 'cloth.steps[0]';
    await page.waitForSelector(`[data-path="${step}"][aria-pressed="true"]`);
    await page.waitForSelector(`[data-shown="${step}"]`);
    const middle = () => hand.field('Centre');
    // It begins empty: nothing is changed before a family is chosen.
    await until('nothing changed yet', async () => (await text('[data-testid="bench"]')).includes('No changes yet'));
    await press('Hue range');
    await hand.click('::-p-text(Green to gold)');
    await until('the family', async () => (await middle()) === 135);
    await press('Pick from the picture');
    // Until the touch comes, the picture is that which the step is given.
    await until('what comes in', async () => !(await page.$(`[data-shown="${step}"]`)));
    const box = await (await page.waitForSelector('[data-testid="picture"]'))?.boundingBox();
    if (!box) throw new Error('no picture');
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    // A hue that the family holds takes it up as it is; another becomes its middle.
    await until('the touch taken', async () => !(await text('[data-testid="bench"]')).includes('Click the picture …'));
    await page.waitForSelector(`[data-shown="${step}"]`);
    const before = await hand.picture();
    // The made field has little colour above its noise: it is to act on all.
    await press('manual');
    const from = await page.waitForSelector('::-p-aria(minimum chroma[role="slider"])');
    await from?.focus();
    await page.keyboard.press('Home');
    const chroma = await page.waitForSelector('::-p-aria(Chroma[role="slider"])');
    await chroma?.focus();
    await page.keyboard.press('Home');
    await until('its colour gone', async () => (await hand.picture()).some((v, c) => Math.abs(v - before[c]) > 0.2));
    await press('Hue range');
    await hand.click('::-p-text(Less magenta)');
    await until('the second family', async () => (await middle()) === 325);
    await press('Remove hue range');
    await until('the first again', async () => (await middle()) !== 325);
    await kept();
  });

  it('a curve is bent by a point set on its chart, by hand and by keys, and made straight again', async () => {
    await press('Add a finishing step');
    await page.keyboard.type('curves');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[data-shown="cloth.steps[1]"]');
    await press('Reset');
    const points = () =>
      page.$$eval('[aria-label^="point "]', (found) => found.map((p) => p.getAttribute('aria-valuetext')));
    await until('its ends alone', async () => (await points()).length === 2);
    const before = await hand.still();
    const chart = await (await page.waitForSelector('[aria-label="Curve of all"]'))?.boundingBox();
    if (!chart) throw new Error('no chart');
    await hand.dragFrom(chart.x + chart.width * 0.3, chart.y + chart.height * 0.7, 0, -chart.height * 0.3);
    await until('a point', async () => (await points()).length === 3);
    await until('a brighter picture', async () => (await hand.picture())[0] > before[0] + 3);
    const [, middle] = await points();
    await page.$eval('[aria-label="point 2"]', (node) => (node as SVGElement).focus());
    await page.keyboard.press('ArrowDown');
    await until('it nudged', async () => (await points())[1] !== middle);
    await page.keyboard.press('Delete');
    await until('it gone', async () => (await points()).length === 2);
    await until('the picture as it was', async () => Math.abs((await hand.picture())[0] - before[0]) < 0.5);
    await kept();
  });

  it('and the page has made no complaint', () => expect(hand.troubles).toEqual([]));
});
