import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { requestJson } from '../apps/server/http/request-json';
import type { Recipe } from '@owl-loom/recipe/schema';
import { AppFixture, lineRecipe, threeLines } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [420, 300];
let evening: AppFixture;
let hand: PageDriver;
let page: Page;
let recipeId: string;
let targetId: string;
const until: PageDriver['until'] = (what, look) => hand.until(what, look);
const text = (selector: string) => hand.text(selector);
const body = async (): Promise<Recipe> =>
  (await requestJson<{ body: Recipe }>(evening.running.address, `/recipes/${recipeId}`)).body;

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand } = evening);
  page = hand.page;
  ({ targetId, recipeId } = await evening.weave(threeLines(71, width, height), { width, height }, lineRecipe));
});

afterAll(() => evening?.end());

/** The opacity of the only layer, set on its card's slider by keys. */
async function dim(): Promise<void> {
  await hand.click('[data-path="cloth.layers[0]"]');
  const slider = await page.waitForSelector('[data-testid="bench"] [role="slider"][aria-label="opacity"]');
  await slider?.focus();
  await page.keyboard.press('Home');
  await hand.kept();
}

describe('swatches', () => {
  it('a state is kept with one key, and stays what it was while the recipe goes on', async () => {
    await page.keyboard.press('c');
    await until('a word of it', async () => (await text('body')).includes('Saved as swatch'));
    await dim();
    expect((await body()).cloth?.layers[0].opacity).toBe(0);
    await hand.press('Save as swatch (C)');
    await until(
      'two swatches',
      async () => (await requestJson<unknown[]>(evening.running.address, `/targets/${targetId}/swatches`)).length === 2,
    );
  });

  it('the picture is held against a swatch', async () => {
    await page.keyboard.press('b');
    await hand.click('[aria-label="with"]');
    const option = await until('a swatch in the list', async () => {
      const found = await page.$$('[role="option"]');
      const labels = await Promise.all(found.map((one) => one.evaluate((node) => node.textContent)));
      return labels.filter((label) => label === 'Layers').length === 2 && found[labels.lastIndexOf('Layers')];
    });
    await option.evaluate((node) => (node as HTMLElement).scrollIntoView());
    await option.click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('b');
    await until('a difference', async () => /[1-9][\d.]* %\s+of the view/.test(await text('[data-testid="picture"]')));
    await hand.press('Stop comparing');
  });

  it('the wall shows both, tells in words what differs, and goes by keys', async () => {
    await hand.press('Swatches');
    const pictures = () => page.$$('[data-swatch] img');
    await until('both pictures', async () => (await pictures()).length === 2);
    await until('the newest large', () => page.$('[data-testid="swatch"][data-shown]'));
    await until('what has changed since', async () => (await text('footer')).includes('No differences'));
    await page.focus('[data-swatch][aria-pressed="true"]');
    await page.keyboard.press('ArrowRight');
    await until('what has changed since the first', async () => (await text('footer')).includes('opacity 0 (new)'));
    const bright = await hand.picture('[data-testid="swatch"] canvas');
    expect(Math.max(...bright)).toBeGreaterThan(12);
    await hand.press(/^Compare Layers with/);
    await until('the other beside it', async () => (await text('footer')).includes('opacity removed (was 0)'));
  });

  it('a name and a note are typed in place, and found again', async () => {
    await page.locator('footer [aria-label="name"]').fill('The bright one');
    await page.keyboard.press('Enter');
    await page.locator('footer [aria-label="Note"]').fill('before the night was dark');
    await page.keyboard.press('Enter');
    await until('the name on the wall', async () => (await text('aside')).includes('The bright one'));
    await page.type('[aria-label="Search names and notes"]', 'night bright');
    await until('one left', async () => (await page.$$('[data-swatch]')).length === 1);
  });

  it('one goes back to it, and undo takes that back', async () => {
    await hand.press('Restore');
    await page.waitForSelector('[data-shown="cloth"]');
    await until('the state of then', async () => (await body()).cloth?.layers[0].opacity === undefined);
    await hand.press('Undo (Ctrl+Z)');
    await until('the dark one', async () => (await body()).cloth?.layers[0].opacity === 0);
    expect(page.url()).not.toContain('back-to');
    await hand.kept();
  });

  it('one thing alone is taken from it', async () => {
    await hand.press('Swatches');
    await page.waitForSelector('[aria-label="Search names and notes"]');
    await page.type('[aria-label="Search names and notes"]', 'night bright');
    await until('what has changed since', async () => (await text('footer')).includes('opacity 0 (new)'));
    await hand.press('Apply layer base from this swatch');
    await page.waitForSelector('[data-shown="cloth"]');
    await until('the layer of then', async () => (await body()).cloth?.layers[0].opacity === undefined);
    expect(page.url()).not.toContain('only=');
    await hand.kept();
  });

  it('every earlier state is looked at as a picture, named, and brought back', async () => {
    await hand.press('Recipes');
    await hand.click('::-p-text(History)');
    const tiles = () => page.$$('[data-past]');
    await until('their pictures', async () => {
      const all = await tiles();
      return all.length > 3 && (await page.$$('[data-past] img')).length === all.length;
    });
    // The first of all, before anything was changed.
    await (await tiles()).at(-1)?.click();
    await until('what has changed since', async () => (await text('footer')).includes('Changes since then'));
    await page.locator('footer [aria-label="Name (named versions are kept)"]').fill('As it began');
    await page.keyboard.press('Enter');
    await until('its name', async () => (await text('aside')).includes('As it began'));
    const before = await body();
    await hand.press('Restore');
    await page.waitForSelector('[data-shown="cloth"]');
    await until('the first state', async () => JSON.stringify(await body()) === JSON.stringify(lineRecipe));
    await hand.press('Undo (Ctrl+Z)');
    await until('the one before', async () => JSON.stringify(await body()) === JSON.stringify(before));
    expect(page.url()).not.toContain('state=');
    expect(hand.troubles).toEqual([]);
  });
});
