import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import type { Recipe } from '@owl-loom/recipe/schema';
import { openBrowser } from '../e2e/browser';
import { requestJson, json } from '../apps/server/http/request-json';

/** Stacks of a new target go by what their files are called; the recipe knows them by their filters. */
async function addRecipe(address: string, target: string, body: Recipe): Promise<string> {
  return (await requestJson<{ id: string }>(address, `/targets/${target}/recipes`, json('POST', { body }))).id;
}

/** How soon a recipe's picture is there, in seconds from opening it. */
export interface OpeningTimes {
  /** Some picture of a recipe that nobody has measured, in a browser that has the page already. */
  readonly first: number;
  /** Its true measurements, and its proof. */
  readonly settled: number;
  readonly proof: number;
  /** Some picture, when the recipe is opened again. */
  readonly again: number;
}

/**
 * Makes a recipe and opens it from another screen, as a hand does, and waits for its picture, its measurements and its proof. The screen before is
 * one that measures nothing: the shelf would have a cover woven, and the recipe measured for it.
 */
export async function openingTimes(
  address: string,
  target: string,
  body: Recipe,
): Promise<{ recipe: string; times: OpeningTimes }> {
  const { page, close } = await openBrowser();
  const seconds = (from: number) => (performance.now() - from) / 1000;
  const away = async (path: string): Promise<void> => {
    await page.goto(`${address}${path}`);
    await page.waitForSelector('a[href*="/targets/"]');
    await pause(1500);
  };
  const open = async (recipe: string): Promise<number> => {
    const from = performance.now();
    await page.evaluate((to) => {
      history.pushState({}, '', to);
      dispatchEvent(new PopStateEvent('popstate', { state: {} }));
    }, `/targets/${target}/loom/${recipe}`);
    await page.waitForSelector('[data-shown="cloth"]', { timeout: 120_000 });
    return from;
  };
  const says = (look: string) => page.waitForFunction(look, { timeout: 300_000, polling: 50 });
  try {
    await away(`/targets/${target}/exports`);
    const recipe = await addRecipe(address, target, body);
    const from = await open(recipe);
    const first = seconds(from);
    await says(`!document.querySelector('[data-testid="picture"]')?.textContent?.includes('Refining')`);
    const settled = seconds(from);
    await says(`document.querySelector('[data-testid="picture"]')?.textContent?.includes('proof')`);
    const proof = seconds(from);
    await away('/');
    const again = seconds(await open(recipe));
    return { recipe, times: { first, settled, proof, again } };
  } finally {
    await close();
  }
}

/** What a screen loads when it is opened for the first time. */
export interface FirstLoad {
  /** Scripts, styles, page and fonts, gzipped where that makes them smaller, in kB of 1000 bytes. */
  readonly kilobytes: number;
  /** From asking for the page until something of the screen can be used. */
  readonly seconds: number;
}

/**
 * Opens a screen in a browser that has nothing of Owl Loom yet.
 * @param ready selects what can be used when the screen is there
 */
export async function firstLoad(address: string, path: string, ready: string): Promise<FirstLoad> {
  const { page, close } = await openBrowser();
  const sizes: Promise<number>[] = [];
  page.on('response', (response) => {
    const { pathname } = new URL(response.url());
    if (pathname.startsWith('/api/') || response.status() !== 200) return;
    sizes.push(response.buffer().then((bytes) => Math.min(bytes.length, gzipSync(bytes).length)));
  });
  try {
    const from = performance.now();
    await page.goto(`${address}${path}`);
    await page.waitForSelector(ready);
    const seconds = (performance.now() - from) / 1000;
    await page.waitForNetworkIdle({ idleTime: 1000 });
    const bytes = (await Promise.all(sizes)).reduce((sum, size) => sum + size, 0);
    return { kilobytes: Math.round(bytes / 1000), seconds };
  } finally {
    await close();
  }
}
