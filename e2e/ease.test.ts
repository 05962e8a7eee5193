import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { requestJson } from '../apps/server/http/request-json';
import { AppFixture, lineRecipe, threeLines } from './evening';
import { type PageDriver, pause } from './hand';

const [width, height] = [260, 200];
let evening: AppFixture;
let hand: PageDriver;
let target: string;
let id: string;
let axe: string;

beforeAll(async () => {
  axe = await readFile(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
  evening = await AppFixture.begin();
  hand = evening.hand;
  const steps: Recipe['strands'][number]['steps'] = [
    { do: 'hue-bands', bands: [{ centre: 140, width: 60, soft: 30 }] },
  ];
  const recipe = { ...lineRecipe, cloth: { layers: lineRecipe.cloth?.layers ?? [], steps } };
  ({ targetId: target, recipeId: id } = await evening.weave(threeLines(51, width, height), { width, height }, recipe));
});
afterAll(() => evening.end());

interface Fault {
  readonly id: string;
  readonly where: string[];
}

/** What the rules for content that all can use (WCAG 2.1, A and AA) find wrong with the page. */
async function faults(): Promise<Fault[]> {
  await hand.page.evaluate(axe);
  return hand.page.evaluate(async () => {
    interface Found {
      violations: { id: string; nodes: { html: string }[] }[];
    }
    const { axe: rules } = window as unknown as { axe: { run(how: object): Promise<Found> } };
    const { violations } = await rules.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'] });
    return violations.map((one) => ({ id: one.id, where: one.nodes.map(({ html }) => html.slice(0, 200)) }));
  });
}

const go = (path: string) => hand.page.goto(`${evening.running.address}${path}`);

describe('every screen can be used by all', () => {
  it.each([
    ['the shelf', () => '/'],
    ['the stacks', () => `/targets/${target}/stacks`],
    ['the swatches', () => `/targets/${target}/swatches`],
    ['the exports', () => `/targets/${target}/exports`],
    ['the trash', () => '/trash'],
    ['the health of the house', () => '/health'],
  ])('%s', async (_, path) => {
    await go(path());
    await hand.until('the screen', () => hand.page.$('header'));
    await pause(1200);
    expect(await faults()).toEqual([]);
  });

  it.each(['cloth', 'cloth.layers[0]', 'cloth.layers[0].steps[0]', 'cloth.steps[0]', 'strands[0]'])(
    'the Loom at %s',
    async (path) => {
      if (!hand.page.url().includes('/loom/')) {
        await go(`/targets/${target}/loom/${id}`);
        await hand.page.waitForSelector('[data-shown="cloth"]');
      }
      await hand.click(`[data-path="${path}"]`);
      await hand.until('its bench', () => hand.page.$('[data-testid="bench"] h2, [data-testid="bench"] h3'));
      expect(await faults()).toEqual([]);
    },
  );

  it('the dialog for files', async () => {
    await hand.press('Export …');
    await hand.until('its fields', () => hand.page.$('[data-testid="written-size"]'));
    expect(await faults()).toEqual([]);
    await hand.page.keyboard.press('Escape');
  });
});

/** The opacity of the only layer, as it is kept. */
const amount = () =>
  requestJson<{ body: Recipe }>(evening.running.address, `/recipes/${id}`).then(
    ({ body }) => (body.cloth?.layers[0].opacity ?? 1) as number,
  );

describe('numbers and sliders', () => {
  const becomes = (wanted: number) =>
    hand.until(`an opacity of ${wanted}`, async () => Math.abs((await amount()) - wanted) < 1e-6);

  it('a number is typed as a sum or with a unit', async () => {
    await hand.click('[data-path="cloth.layers[0]"]');
    const field = await hand.page.waitForSelector(
      'xpath///*[@data-testid="bench"]//label[span[text()="opacity"]]/input',
    );
    const type = async (text: string) => {
      await field?.click({ count: 3 });
      await hand.page.keyboard.type(text);
      await hand.page.keyboard.press('Enter');
    };
    await type('3/4');
    await becomes(0.75);
    await type('40 %');
    await becomes(0.4);
    await type('plenty');
    expect(await field?.evaluate((node) => (node as HTMLInputElement).value)).toBe('0.4');
  });

  it('a slider goes finer under Shift, and back to what is usual by a double press', async () => {
    const thumb = await hand.page.$('[data-testid="bench"] [role="slider"][aria-label="opacity"]');
    await thumb?.focus();
    await hand.page.keyboard.press('ArrowRight');
    await becomes(0.405);
    await hand.page.keyboard.down('Shift');
    await hand.page.keyboard.press('ArrowRight');
    await hand.page.keyboard.up('Shift');
    await becomes(0.4055);
    const box = await thumb?.boundingBox();
    if (!box) throw new Error('no slider');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await hand.page.mouse.move(x, y);
    await hand.page.keyboard.down('Shift');
    await hand.page.mouse.down();
    await hand.page.mouse.move(x + 30, y, { steps: 6 });
    await hand.page.mouse.up();
    await hand.page.keyboard.up('Shift');
    await hand.until('a little more', async () => (await amount()) > 0.41 && (await amount()) < 0.46);
    await hand.page.mouse.click(x, y, { count: 2 });
    await becomes(1);
  });
});

describe('fingers', () => {
  const zoom = async (): Promise<number> => Number.parseInt(await hand.text('[data-testid="zoom"]'), 10);
  const seen = async (): Promise<string> => JSON.stringify(await hand.picture('[data-testid="picture"] canvas'));

  it('pull a slider', async () => {
    const thumb = await hand.page.$('[data-testid="bench"] [role="slider"][aria-label="opacity"]');
    const box = await thumb?.boundingBox();
    if (!box) throw new Error('no slider');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const finger = await hand.page.touchscreen.touchStart(x, y);
    for (let i = 1; i <= 5; i++) await finger.move(x - 12 * i, y);
    await finger.end();
    await hand.until('less opacity', async () => (await amount()) < 0.9);
  });

  it('move the picture, one alone, and draw it nearer, two of them', async () => {
    const box = await (await hand.page.$('[data-testid="picture"] canvas'))?.boundingBox();
    if (!box) throw new Error('the picture has no place');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const before = [await zoom(), await seen()] as const;
    const first = await hand.page.touchscreen.touchStart(x - 40, y);
    const second = await hand.page.touchscreen.touchStart(x + 40, y);
    for (let i = 1; i <= 5; i++) {
      await first.move(x - 40 - 8 * i, y);
      await second.move(x + 40 + 8 * i, y);
    }
    await first.end();
    await second.end();
    await hand.until('it twice as near', async () => Math.abs((await zoom()) / before[0] - 2) < 0.1);
    const near = await seen();
    const alone = await hand.page.touchscreen.touchStart(x, y);
    for (let i = 1; i <= 5; i++) await alone.move(x + 14 * i, y + 6 * i);
    await alone.end();
    await hand.until('another part of it', async () => (await seen()) !== near);
    expect(Math.abs((await zoom()) / before[0] - 2)).toBeLessThan(0.1);
  });
});

describe('a newcomer', () => {
  it('is led by a word at each place, which goes when the thing is done, and for ever when it is not wanted', async () => {
    const other = await evening.another();
    const says = (what: RegExp) =>
      other.until(`a word about ${what}`, async () =>
        what.test(await other.text('aside[aria-label^="First weave"]').catch(() => '')),
      );
    await other.page.goto(`${evening.running.address}/targets/${target}/stacks`);
    await other.page.evaluate(() => localStorage.setItem('owl-loom-lead', '0'));
    await other.page.reload();
    await says(/Check the filter of every stack/);
    await other.press('Next');
    await other.page.goto(`${evening.running.address}/targets/${target}/loom/${id}`);
    await says(/Each diamond in the draft/);
    await other.page.waitForSelector('[data-shown="cloth"]');
    await other.click('[data-path="cloth.layers[0]"]');
    await other.page.focus('[aria-label="Ha in green"]');
    await other.page.keyboard.press('PageDown');
    await says(/Click a step in the draft/);
    await other.click('[data-path="cloth.steps[0]"]');
    await says(/Press C to save a swatch/);
    await other.press('Hide tips');
    await other.kept();
    await other.page.reload();
    await other.page.waitForSelector('[data-shown="cloth"]');
    expect(await other.page.$('aside[aria-label^="First weave"]')).toBeNull();
    expect(other.troubles).toEqual([]);
    await other.close();
  });
});
