import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { requestJson, json } from '../apps/server/http/request-json';
import { AppFixture, lineRecipe, stackFile, threeLines } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [240, 180];
let evening: AppFixture;
let hand: PageDriver;
let id: string;
let target: string;
let address: string;
const recipe: Recipe = {
  ...lineRecipe,
  strands: lineRecipe.strands.map((strand) =>
    strand.id === 'SII'
      ? {
          ...strand,
          steps: [
            { do: 'linear-fit', to: 'Ha' },
            { do: 'scale', multiply: 1.5 },
          ],
        }
      : strand,
  ),
};

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand } = evening);
  ({ address } = evening.running);
  ({ recipeId: id, targetId: target } = await evening.weave(threeLines(61, width, height), { width, height }, recipe));
});
afterAll(() => evening.end());

const body = async () => (await requestJson<{ body: Recipe }>(address, `/recipes/${id}`)).body;
/** Opens an entry of the list of recipes. */
async function entry(label: string): Promise<void> {
  await hand.until(`the entry ${label}`, async () => {
    // The bar may still be making room for what has been chosen.
    if (!(await hand.page.$('[role="menu"]'))) await hand.press('Recipes');
    for (const one of await hand.page.$$('[role="menuitem"]'))
      if ((await one.evaluate((node) => node.textContent)) === label) {
        await one.click();
        return true;
      }
    return false;
  });
}

it('steps are kept as a pattern and threaded onto another strand, shown before they are taken', async () => {
  await hand.click('[data-path="strands[2]"]');
  await entry('Save as pattern …');
  await hand.page.waitForSelector('[role="dialog"] input');
  await hand.page.type('[role="dialog"] input', 'Fit and lift');
  await hand.press('Save');
  await hand.until('it kept', async () => (await requestJson<unknown[]>(address, '/patterns')).length === 1);
  await hand.until('no dialog', async () => !(await hand.page.$('[role="dialog"]')));
  await hand.click('[data-path="strands[1]"]');
  await entry('Apply pattern …');
  await hand.press(/^Fit and lift/);
  await hand.until('a preview', () => hand.page.$('[role="dialog"] canvas[data-drawn="true"]'));
  expect((await body()).strands[1].steps).toEqual([]);
  await hand.press('Apply');
  await hand.until('the steps there', async () => (await body()).strands[1].steps?.length === 2);
  expect((await body()).strands[1].steps).toEqual(recipe.strands[2].steps);
  await hand.page.keyboard.down('Control');
  await hand.page.keyboard.press('z');
  await hand.page.keyboard.up('Control');
  await hand.until('one undo', async () => (await body()).strands[1].steps?.length === 0);
});

it('a recipe is woven on another target by its filters, and its picture comes', async () => {
  const { id: other } = await requestJson<{ id: string }>(address, '/targets', json('POST', { name: 'Elsewhere' }));
  const planes = threeLines(77, width, height);
  const names = Object.keys(planes).map((filter) => `elsewhere_${filter}.fits`);
  for (const [i, plane] of Object.values(planes).entries())
    await writeFile(join(evening.root, 'inbox', names[i]), stackFile(Object.keys(planes)[i], plane, width, height));
  await requestJson(address, `/targets/${other}/inbox`, json('POST', { files: names }));
  await requestJson(address, '/targets', json('POST', { name: 'Empty' }));
  await hand.until(
    'its stacks',
    async () => (await requestJson<unknown[]>(address, `/targets/${other}/stacks`)).length === 3,
  );
  await hand.page.reload();
  await hand.page.waitForSelector('[data-shown="cloth"]');
  await entry('Weave on other targets …');
  const dialog = '[role="dialog"]';
  await hand.until('who can take it', async () =>
    /Empty[\s\S]*needs Ha, OIII and SII|Empty[\s\S]*needs SII/.test(await hand.text(dialog)),
  );
  await hand.click(`${dialog} label ::-p-text(Elsewhere)`);
  await hand.press('Weave');
  await hand.until('its picture', () => hand.pictured(`${dialog} img`));
  const { recipes } = await requestJson<{ recipes: { name: string }[] }>(address, `/targets/${other}`);
  expect(recipes.map(({ name }) => name)).toEqual(['Layers']);
  expect(hand.troubles).toEqual([]);
});

it('a recipe is woven in several palettes; the pictures come side by side, and hang on the wall', async () => {
  await hand.page.goto(`${address}/targets/${target}/loom/${id}`);
  await hand.page.waitForSelector('[data-shown="cloth"]');
  const before = (await requestJson<unknown[]>(address, `/targets/${target}/swatches`)).length;
  await entry('Weave in other palettes …');
  const boxes = await hand.page.waitForSelector('[role="dialog"] input[type="checkbox"]:not([disabled])');
  expect(boxes).toBeTruthy();
  const all = await hand.page.$$('[role="dialog"] input[type="checkbox"]:not([disabled])');
  for (const box of all.slice(0, 2)) await box.click();
  await hand.press('Weave', '[role="dialog"]');
  await hand.until('two pictures', () => hand.pictured('[role="dialog"] img', 2));
  const swatches = await requestJson<{ name: string }[]>(address, `/targets/${target}/swatches`);
  expect(swatches.length).toBe(before + 2);
  expect(new Set(swatches.slice(0, 2).map(({ name }) => name)).size).toBe(2);
  await hand.press('Done');
});
