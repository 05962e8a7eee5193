import { setTimeout as pause } from 'node:timers/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { openBrowser } from './browser';

interface Target {
  readonly id: string;
  readonly name: string;
  readonly recipes: readonly { readonly id: string; readonly name: string }[];
}

interface Shot {
  readonly name: string;
  readonly path: (target: Target) => string;
  readonly prepare?: (page: Page) => Promise<void>;
}

const choose = (path: string) => async (page: Page) => {
  await page.waitForSelector(`[data-path="${path}"]`);
  await page.click(`[data-path="${path}"]`);
};

const loom =
  (name: string) =>
  ({ id, recipes }: Target) =>
    `/targets/${id}/loom/${recipes.find((recipe) => recipe.name === name)?.id ?? recipes[0].id}`;

/** Presses the button that begins with a word. */
const press = (word: string) => (page: Page) =>
  page.evaluate((text) => {
    const found = [...document.querySelectorAll<HTMLButtonElement>('aside button')].find((button) =>
      button.innerText.trim().startsWith(text),
    );
    found?.click();
  }, word);

/** The main views, each once. */
const SHOTS: readonly Shot[] = [
  { name: 'stacks', path: ({ id }) => `/targets/${id}/stacks` },
  { name: 'loom', path: loom('Copper and teal') },
  {
    name: 'starless',
    path: loom('Gas behind daylight stars'),
    prepare: async (page) => {
      await choose('cloth.layers[0]')(page);
      await choose('cloth.layers[0].steps[1]')(page);
    },
  },
  {
    name: 'hues',
    path: loom('Gold from green'),
    prepare: choose('cloth.steps[1]'),
  },
  {
    name: 'ask',
    path: loom('By its own light'),
    prepare: async (page) => {
      await page.keyboard.press('q');
      await page.mouse.click(330, 330);
      await page.waitForSelector('[aria-label="Colour origin"] ol', { timeout: 120_000 });
    },
  },
  {
    name: 'write-files',
    path: loom('Copper and teal'),
    prepare: async (page) => {
      await page.evaluate(() => {
        for (const button of document.querySelectorAll<HTMLButtonElement>('header button'))
          if (button.innerText.trim() === 'Export …') button.click();
      });
      await page.waitForSelector('[role="dialog"] canvas');
      await page.evaluate(() => {
        for (const button of document.querySelectorAll<HTMLButtonElement>('[role="dialog"] button'))
          if (['JPEG', 'Print format'].includes(button.innerText.trim())) button.click();
      });
      await pause(1500);
    },
  },
  { name: 'linear-fit', path: loom('Copper and teal'), prepare: choose('strands[2].steps[1]') },
  {
    name: 'before-and-after',
    path: loom('Copper and teal'),
    prepare: async (page) => {
      await choose('strands[1].steps[0]')(page);
      await page.keyboard.press('b');
      await pause(2500);
    },
  },
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
  { name: 'exports', path: ({ id }) => `/targets/${id}/exports` },
  { name: 'health', path: () => '/health' },
  // When everything on the covers has been measured.
  { name: 'shelf', path: () => '/' },
  {
    name: 'mask',
    path: loom('Threads of fire'),
    prepare: async (page) => {
      await choose('cloth.layers[1]')(page);
      await page.click('[aria-label="Open the mask"]');
      await page.keyboard.press('m');
      await press('Ellipse: hide')(page);
      await pause(1500);
    },
  },
  {
    name: 'swatches',
    path: ({ id }) => `/targets/${id}/swatches`,
    prepare: async (page) => {
      await page.waitForFunction(
        () => [...document.querySelectorAll('[data-swatch]')].every((one) => one.querySelector('img')),
        { timeout: 240_000 },
      );
      await page.hover('[data-swatch]');
      await page.click('[aria-label^="Compare Glow by add with"]');
      await pause(1000);
    },
  },
  {
    name: 'palettes',
    path: ({ id }) => `/targets/${id}/swatches?show=palettes`,
    prepare: async (page) => {
      await page.waitForFunction(
        () => [...document.querySelectorAll('[data-palette]')].every((one) => one.querySelector('img')),
        { timeout: 120_000 },
      );
      await page.click('[data-palette="SOO, hydrogen on top"]');
      await page.hover('[data-palette="HOO"]');
      for (const name of ['HOO', 'OHS', 'SHO']) await page.click(`[aria-label^="Compare ${name} with"]`);
      await pause(1000);
    },
  },
];

/** Quiet looks in a row after which nothing more is under way. */
const QUIET = 6;

/** Waits until the picture has come, its measurements are settled and no job is under way, for a while together. */
async function settled(page: Page): Promise<void> {
  await pause(600);
  for (let i = 0, quiet = 0; i < 450 && quiet < QUIET; i++) {
    const waiting = await page.evaluate(() => {
      const picture = document.querySelector('[data-testid="picture"]');
      return (
        /Refining|Measuring …|Weaving …/i.test(document.body.innerText) ||
        document.querySelector('[aria-label$="jobs running"], [data-drawn="false"]') !== null ||
        (picture !== null && !picture.hasAttribute('data-shown'))
      );
    });
    quiet = waiting ? 0 : quiet + 1;
    await pause(350);
  }
}

/** Takes every picture at 1280x800. */
export async function takeShots(address: string, folder: string, say: (line: string) => void): Promise<void> {
  const { page, close } = await openBrowser();
  try {
    const targets = (await (await fetch(`${address}/api/targets`)).json()) as Target[];
    const named = (name: string): Target => {
      const found = targets.find((target) => target.name === name);
      if (!found) throw new Error(`the demo has no ${name}`);
      return found;
    };
    const moth = named('Lantern Moth');
    const exports = (await (await fetch(`${address}/api/targets/${moth.id}/exports`)).json()) as unknown[];
    if (exports.length === 0) {
      const recipeId = moth.recipes.find((recipe) => recipe.name === 'Copper and teal')?.id;
      for (const format of ['png', 'tif', 'fits']) {
        await fetch(`${address}/api/targets/${moth.id}/exports`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ recipeId, format }),
        });
      }
    }
    for (const shot of SHOTS) {
      await page.goto(`${address}${shot.path(named('Lantern Moth'))}`);
      await page.evaluate(() => document.fonts.ready.then(() => undefined));
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
