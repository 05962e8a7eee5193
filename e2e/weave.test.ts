import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { openFits } from '@owl-loom/image/fits/image';
import type { RunningServer } from '../apps/server/main/start';
import { AppFixture, lineRecipe, threeLines } from './evening';
import type { PageDriver } from './hand';
import { probedInBrowser } from './browser-probe';

const [width, height] = [420, 300];
let evening: AppFixture;
let root: string;
let running: RunningServer;
let hand: PageDriver;
let page: Page;
let targetId: string;
let recipeId: string;
const until: PageDriver['until'] = (what, look) => hand.until(what, look);
const text = (selector: string) => hand.text(selector);
const press = (name: string | RegExp) => hand.press(name);
const picture = (selector?: string) => hand.picture(selector);
const kept = () => hand.kept();

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand, root, running } = evening);
  page = hand.page;
  ({ targetId, recipeId } = await evening.weave(threeLines(92, width, height), { width, height }, lineRecipe));
});

afterAll(() => evening?.end());

describe('layers and masks by hand', () => {
  it('a layer is laid on through a mask that is made by one press, and modes are tried by key', async () => {
    await press('layer');
    await hand.click('::-p-text(one strand)');
    await page.waitForSelector('[data-path="cloth.layers[1]"]');
    const mode = () => page.$eval('[role="toolbar"] [aria-pressed="true"]', (node) => node.textContent);
    await until('the new layer on the bench', async () => (await mode()) === 'screen');
    await until('its picture', () => page.$('[data-shown="cloth.layers[1]@cloth"], [data-shown="cloth.layers[1]"]'));
    await press('New mask');
    await hand.click('::-p-text(Bright parts of OIII)');
    await page.waitForSelector('[data-path="masks[0]"]');
    await page.focus('[role="toolbar"] [aria-pressed="true"]');
    await page.keyboard.press('ArrowRight');
    await until('the next mode', async () => (await mode()) === 'overlay');
    await page.keyboard.press('ArrowDown');
    await until('the one below that', async () => (await mode()) === 'lighten');
    await page.keyboard.press('Escape');
    await until('the one that it was', async () => (await mode()) === 'screen');
    await press('Open the mask');
    await until('the mask alone', () => page.$('[data-shown="masks[0]"]'));
    await hand.press('On', '[data-testid="bench"]');
    await kept();
  });

  it('a stroke of the brush stands on the picture at once and in the mask after it, and can be taken back', async () => {
    await page.keyboard.press('m');
    await until('the picture under a veil', () => page.$('[data-shown="cloth.layers[1]@cloth"]'));
    const before = await picture();
    await press(/^Brush:/);
    const box = await (await page.waitForSelector('[data-testid="picture"]'))?.boundingBox();
    if (!box) throw new Error('no picture');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 60, y + 30, { steps: 6 });
    expect(await page.$('[data-testid="stroke"]')).not.toBeNull();
    await page.mouse.up();
    await until('the mask anew', async () => !(await page.$('[data-testid="stroke"]')));
    // A picture of the state before may still be on its way when the pen is lifted.
    await until('another picture', async () => JSON.stringify(await picture()) !== JSON.stringify(before));
    const bench = (what: string) => async () => (await text('[data-testid="bench"]')).includes(what);
    await until('word of it', bench('Stroke: show'));
    await press('Undo last');
    await until('it gone', async () => !(await bench('Stroke: show')()));
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await until('it back', bench('Stroke: show'));
    // An ellipse from corner to corner, moved by its line, pulled by a handle, and taken away.
    await press(/^Ellipse:/);
    await hand.dragFrom(x - 120, y - 60, 80, 50);
    await until('the ellipse, taken up', () => page.$('[data-handle="3"]'));
    await until('word of it', bench('Ellipse: show'));
    const handle = async () => (await (await page.$('[data-handle="0"]'))?.boundingBox())?.x ?? 0;
    const at = await handle();
    await hand.drag('[data-handle="0"]', -30, 0);
    await until('it wider', async () => Math.abs((await handle()) - at + 30) < 3);
    await page.keyboard.press('Delete');
    await until('it gone', async () => !(await bench('Ellipse: show')()));
    // One held key shows the picture without the mask.
    await hand.click('[data-path="cloth.layers[1]"]');
    await page.waitForSelector('[data-shown="cloth.layers[1]@cloth"]');
    await kept();
    const apart = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i])));
    let masked = await picture();
    await until('a picture at rest', async () => {
      const before = masked;
      masked = await picture();
      return apart(before, masked) < 0.5 && (await text('body')).includes('proof');
    });
    await page.keyboard.down('n');
    await until('it without the mask', async () => apart(await picture(), masked) > 2);
    const bare = await picture();
    await page.keyboard.up('n');
    // Drawn coarse, fine or as the proof, it is the masked picture again, not the bare one.
    await until('it with the mask again', async () => {
      const now = await picture();
      return apart(now, masked) < apart(now, bare) / 4;
    });
    await kept();
  });

  it('layers are put together into a small cloth, which is a room with a way back up, and taken apart again', async () => {
    await hand.click('[data-path="cloth.layers[1]"]');
    await press('Combine with layer below into a small cloth');
    await until('one layer', async () => !(await page.$('[data-path="cloth.layers[1]"]')));
    await press('Open');
    await until('the room', () => page.$('[data-path="cloth.layers[0].of.layers[1]"]'));
    await until('its picture', () => page.$('[data-shown^="cloth.layers[0].of.layers[1]"]'));
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.up('Shift');
    await until('the room above', () => page.$('[data-path="cloth.layers[0]"][aria-pressed="true"]'));
    await press('Take apart');
    await until('two layers', () => page.$('[data-path="cloth.layers[1]"]'));
    await kept();
  });
});

describe('two places, one core', () => {
  it('the browser and the server give the same pixels at 1:1, nested and masked', async () => {
    const stacks = (await (await fetch(`${running.address}/api/targets/${targetId}/stacks`)).json()) as {
      name: string;
      pixels: string;
      width: number;
      height: number;
      exposure: number;
    }[];
    const { body } = (await (await fetch(`${running.address}/api/recipes/${recipeId}`)).json()) as {
      body: unknown;
    };
    const { job } = (await (
      await fetch(`${running.address}/api/targets/${targetId}/exports`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ recipeId, format: 'fits' }),
      })
    ).json()) as { job: string };
    const file = await until('the render', async () => {
      const jobs = (await (await fetch(`${running.address}/api/jobs`)).json()) as {
        id: string;
        state: string;
        result: { exportId: string };
      }[];
      return jobs.find((one) => one.id === job && one.state === 'done')?.result.exportId;
    });
    const image = await openFits(
      memorySource('x', new Uint8Array(await readFile(join(root, 'exports', `${file}.fits`)))),
    );
    const planes = await Promise.all([0, 1, 2].map((p) => image.readRows(p, 0, height)));
    const { figures } = (await (
      await fetch(`${running.address}/api/targets/${targetId}/measure`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ recipe: body, paths: ['cloth'], also: [] }),
      })
    ).json()) as { figures: unknown };
    const points = Array.from({ length: 120 }, (_, i) => ({ x: (i * 97) % width, y: (i * 61) % height }));
    const given = stacks.map(({ name, pixels, exposure, ...size }) => ({
      name,
      info: { id: pixels, width: size.width, height: size.height, planes: 1, domain: 'linear', exposure },
    }));
    const found = await probedInBrowser(page, { recipe: body, stacks: given, figures }, points);
    const worst = Math.max(
      ...points.flatMap(({ x, y }, i) => [0, 1, 2].map((p) => Math.abs(found[i][p] - planes[p][y * width + x]))),
    );
    expect(worst).toBeLessThanOrEqual(1e-6);
  });
});

describe('the contact sheet', () => {
  it('shows every palette on these stacks, two against each other, three in a grid, and makes one a recipe', async () => {
    await press('Swatches');
    await page.waitForSelector('[data-palette="HOO"] img');
    await until('all of them', () =>
      page.$$eval('[data-palette]', (all) => all.length === 8 && all.every((one) => one.querySelector('img'))),
    );
    await hand.click('[data-palette="HOO"]');
    await until('it large', () => page.$('[data-testid="swatch"][data-shown="HOO"]'));
    const alone = await picture('[data-testid="swatch"] canvas');
    await press('Compare SHO with HOO');
    await until('two by a wipe', () => page.$('[data-testid="swatch"][data-compare="wipe"]'));
    await until('another picture', async () => {
      const both = await picture('[data-testid="swatch"] canvas');
      return JSON.stringify(both) !== JSON.stringify(alone);
    });
    await press('Compare OHS with HOO');
    await until('three in a grid', () => page.$('[data-testid="swatch"][data-compare="grid"]'));
    expect(await hand.text('[data-testid="swatch"]')).toMatch(/HOO.*SHO.*OHS.*Select one more/s);
    // Turned in over one of them, all are: the same piece of sky stands in each, and no longer the whole of it.
    const whole = await picture('[data-testid="swatch"] canvas');
    const box = await (await page.$('[data-testid="swatch"] canvas'))?.boundingBox();
    if (!box) throw new Error('the stage has no place');
    await page.mouse.move(box.x + box.width * 0.8, box.y + box.height * 0.2);
    await page.mouse.wheel({ deltaY: -600 });
    await until(
      'nearer',
      async () => JSON.stringify(await picture('[data-testid="swatch"] canvas')) !== JSON.stringify(whole),
    );
    await press('Stop comparing');
    await until('one', () => page.$('[data-testid="swatch"]:not([data-compare])'));
    await press('Weave');
    await page.waitForSelector('[data-shown="cloth"]');
    await until('its name', () => page.$('input[aria-label="Recipe name"][value="HOO"]'));
  });

  it("takes a recipe of one's own in", async () => {
    await press('Recipes');
    await hand.click('::-p-text(Save as palette …)');
    await page.waitForSelector('input[name="name"]');
    await page.locator('input[name="name"]').fill('My own');
    await press('Save');
    await press('Swatches');
    await until('it woven', () => page.$('[data-palette="My own"] img'));
  });

  it('and the page has made no complaint', () => expect(hand.troubles).toEqual([]));
});
