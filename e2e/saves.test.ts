import type { HTTPRequest } from 'puppeteer-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { requestJson } from '../apps/server/http/request-json';
import type { Recipe } from '@owl-loom/recipe/schema';
import { AppFixture, lineRecipe, threeLines } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [220, 160];
let evening: AppFixture;
let hand: PageDriver;
let id: string;

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand } = evening);
  ({ recipeId: id } = await evening.weave(threeLines(91, width, height), { width, height }, lineRecipe));
  await hand.page.setRequestInterception(true);
});

afterAll(() => evening?.end());

const kept = () => requestJson<{ body: Recipe; revision: number }>(evening.running.address, `/recipes/${id}`);
const states = () => requestJson<{ conflict: boolean }[]>(evening.running.address, `/recipes/${id}/states`);

/** Lets saves reach the server, and their answers be lost on the way back, so many of them. */
function losing(answers: number): { lost: () => number } {
  let lost = 0;
  hand.page.removeAllListeners('request');
  hand.page.on('request', (request: HTTPRequest) => {
    if (request.method() !== 'PUT' || lost >= answers) return void request.continue();
    lost++;
    const { 'content-type': type } = request.headers();
    void fetch(request.url(), { method: 'PUT', headers: { 'Content-Type': type }, body: request.postData() })
      .then((response) => response.text())
      .then(() => request.abort('connectionreset'));
  });
  return { lost: () => lost };
}

/** Moves the opacity of the only layer by keys. */
async function move(...keys: ('Home' | 'End' | 'ArrowLeft')[]): Promise<void> {
  await hand.click('[data-path="cloth.layers[0]"]');
  const slider = await hand.page.waitForSelector('[data-testid="bench"] span[role="slider"][aria-label="opacity"]');
  await slider?.focus();
  for (const key of keys) await hand.page.keyboard.press(key);
}

it('a save whose answer was lost counts once, and what is changed meanwhile is no conflict with it', async () => {
  const { revision } = await kept();
  const line = losing(2);
  await move('Home');
  await hand.until('a lost answer', async () => line.lost() > 0);
  await hand.until('its word', async () => (await hand.text('header')).includes('Not saved yet'));
  // The hand goes on while the page does not know whether that was kept.
  await move('End', 'ArrowLeft');
  await hand.until('the later state', async () => (await kept()).body.cloth?.layers[0].opacity === 0.995);
  await hand.kept();
  expect(line.lost()).toBe(2);
  expect((await kept()).revision).toBe(revision + 2);
  expect((await states()).filter(({ conflict }) => conflict)).toEqual([]);
});
