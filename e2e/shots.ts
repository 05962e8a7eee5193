import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { openBrowser } from './browser';

interface Shot {
  readonly name: string;
  readonly path: (target: string, recipes: readonly { id: string; name: string }[]) => string;
  readonly prepare?: (page: Page) => Promise<void>;
}

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

const recipeNamed = (recipes: readonly { id: string; name: string }[], name: string): string => recipes.find((recipe) => recipe.name === name)?.id ?? recipes[0].id;

const choose = (path: string) => async (page: Page) => {
  await page.waitForSelector(`[data-path="${path}"]`);
  await page.click(`[data-path="${path}"]`);
};

const loom = (name: string) => (target: string, recipes: readonly { id: string; name: string }[]) => `/targets/${target}/loom/${recipeNamed(recipes, name)}`;

/** The main views, each once. */
const SHOTS: readonly Shot[] = [
  { name: 'shelf', path: () => '/' },
  { name: 'stacks', path: (target) => `/targets/${target}/stacks` },
  { name: 'loom', path: loom('Copper and teal') },
  { name: 'linear-fit', path: loom('Copper and teal'), prepare: choose('strands[2].steps[1]') },
  { name: 'gradient', path: loom('Copper and teal'), prepare: choose('strands[0].steps[0]') },
  { name: 'continuum', path: loom('Daylight with hydrogen'), prepare: choose('strands[3].steps[1]') },
  { name: 'formula', path: loom('Daylight with hydrogen'), prepare: choose('strands[6]') },
  { name: 'tie-up', path: loom('Copper and teal'), prepare: choose('cloth.layers[0]') },
  {
    name: 'stretch',
    path: loom('Plain daylight'),
    prepare: async (page) => {
      await choose('cloth.layers[0]')(page);
      await choose('cloth.layers[0].steps[0]')(page);
    },
  },
  { name: 'exports', path: (target) => `/targets/${target}/exports` },
];

/** Quiet looks in a row after which nothing more is under way. */
const QUIET = 6;

/** Waits until the picture has come, its figures are settled and no job is under way, for a while together. */
async function settled(page: Page): Promise<void> {
  await pause(600);
  for (let i = 0, quiet = 0; i < 450 && quiet < QUIET; i++) {
    const waiting = await page.evaluate(() => {
      const picture = document.querySelector('[data-testid="picture"]');
      return document.body.innerText.includes('settling') || document.querySelector('[aria-label$="jobs under way"]') !== null || (picture !== null && !picture.hasAttribute('data-shown'));
    });
    quiet = waiting ? 0 : quiet + 1;
    await pause(350);
  }
}

/** Takes every picture at 1280x800. */
export async function takeShots(address: string, folder: string, say: (line: string) => void): Promise<void> {
  const { page, close } = await openBrowser();
  try {
    const [{ id, recipes }] = (await (await fetch(`${address}/api/targets`)).json()) as { id: string; recipes: { id: string; name: string }[] }[];
    const exports = (await (await fetch(`${address}/api/targets/${id}/exports`)).json()) as unknown[];
    if (exports.length === 0) {
      for (const format of ['png', 'tif', 'fits']) {
        await fetch(`${address}/api/targets/${id}/exports`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ recipeId: recipeNamed(recipes, 'Copper and teal'), format }) });
      }
    }
    for (const shot of SHOTS) {
      await page.goto(`${address}${shot.path(id, recipes)}`);
      await settled(page);
      if (shot.prepare) {
        await shot.prepare(page);
        await settled(page);
      }
      await page.screenshot({ path: join(folder, `${shot.name}.png`) as `${string}.png` });
      say(`  ${shot.name}.png`);
    }
  } finally {
    await close();
  }
}
