import { readFile, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '../core/fits/bytes';
import { openFits } from '../core/fits/image';
import { observed, scene } from '../core/testing/random';
import type { Running } from '../server/start';
import { probedInBrowser } from './probed';
import { Evening, stackFile } from './evening';
import type { Hand } from './hand';

const [width, height] = [420, 300];
let evening: Evening;
let root: string;
let running: Running;
let hand: Hand;
let page: Page;
const until: Hand['until'] = (what, look) => hand.until(what, look);
const text = (selector: string) => hand.text(selector);
const press = (name: string) => hand.press(name);
const picture = () => hand.picture();
const kept = () => hand.kept();
const drag = (selector: string, dx: number, dy: number) => hand.drag(selector, dx, dy);

beforeAll(async () => {
  evening = await Evening.begin();
  ({ hand, root, running } = evening);
  page = hand.page;
  const of = scene(90, width, height, { clouds: 0.05 });
  const files = {
    Ha: observed(of, 0, 1, 0.0008, 1),
    OIII: observed(of.slice().reverse(), 0.004, 0.3, 0.0004, 2),
    SII: observed(scene(91, width, height), 0.002, 0.2, 0.0004, 3),
  };
  for (const [filter, plane] of Object.entries(files))
    await writeFile(join(root, `moth_${filter}.fits`), stackFile(filter, plane, width, height));
});

afterAll(() => evening?.end());

describe('a first evening with Owl Loom', () => {
  it('an empty shelf says what to do, and takes a target', async () => {
    await page.goto(running.address);
    await until('the empty shelf', async () => (await text('body')).includes('The shelf is empty'));
    await press('Make the first target');
    await page.waitForSelector('input[name="name"]');
    await page.type('input[name="name"]', 'Moth');
    await page.keyboard.press('Enter');
    await until('the stacks screen', async () => page.url().includes('/stacks'));
    await until('what to do', async () => (await text('body')).includes('Bring in the stacks of Moth'));
  });

  it('stacks come in by hand, sorted and named', async () => {
    const input = await page.waitForSelector('input[type="file"]');
    await input?.uploadFile(...['SII', 'Ha', 'OIII'].map((filter) => join(root, `moth_${filter}.fits`)));
    await until('three stacks', async () => (await page.$$('tbody tr')).length === 3);
    const names = await page.$$eval('tbody tr td:nth-child(2) span span:first-child', (nodes) =>
      nodes.map((node) => node.textContent),
    );
    expect(names).toEqual(['Ha', 'OIII', 'SII']);
  });

  it('a stack of another field is told of in its line, not over what is to be pressed', async () => {
    await until('what is wrong with SII', async () => /do not match/.test(await text('[aria-label="Line-up"]')));
    expect(await page.$('[data-sonner-toast]')).toBeNull();
  });

  it('a recipe is begun from what is there, and the picture comes', async () => {
    await press('Three lines');
    await until('the Loom', async () => page.url().includes('/loom/'));
    await until(
      'a picture',
      async () => (await page.$('[data-shown="cloth"]')) && (await picture()).some((value) => value > 12),
    );
    await kept();
  });

  it('a knot changes the picture while it is dragged, is kept, and can be undone', async () => {
    const before = await picture();
    await drag('[aria-label="OIII in red"]', 0, -120);
    await until('another picture', async () => Math.abs((await picture())[0] - before[0]) > 2);
    const weight = () => page.$eval('[aria-label="OIII in red"]', (node) => Number(node.getAttribute('aria-valuenow')));
    expect(await weight()).toBeGreaterThan(0.5);
    await kept();
    const tied = await weight();
    await page.reload();
    await page.waitForSelector('[aria-label="OIII in red"]');
    expect(await weight()).toBe(tied);
    await page.focus('[aria-label="OIII in red"]');
    await page.keyboard.press('ArrowUp');
    expect(await weight()).toBeCloseTo(tied + 0.05, 6);
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    expect(await weight()).toBe(tied);
    await kept();
  });

  it('a bead shows the state there, with its figures and its chart', async () => {
    await page.click('[data-path="strands[1].steps[0]"]');
    await until('the strand', () => page.$('[data-shown="strands[1].steps[0]"]'));
    await until('the figures', async () => (await text('[data-testid="bench"]')).includes('slope'));
    expect(await text('[data-testid="bench"]')).toMatch(/so levels/);
    expect(await page.$('[aria-label^="OIII against Ha"]')).not.toBeNull();
    await until('settled figures', async () => !(await text('[data-testid="picture"]')).includes('settling'));
  });

  it('a slider of a stretch changes the picture', async () => {
    await page.click('[data-path="cloth.layers[0]"]');
    await page.waitForSelector('[data-path="cloth.layers[0].steps[0]"]');
    await page.click('[data-path="cloth.layers[0].steps[0]"]');
    await until('the stretched layer', () => page.$('[data-shown="cloth.layers[0].steps[0]"]'));
    await until('settled', async () => !(await text('[data-testid="picture"]')).includes('settling'));
    const before = await picture();
    await drag('[role="slider"][aria-label="sky at"]', 40, 0);
    await until('a brighter picture', async () => (await picture())[1] > before[1] + 4);
    await kept();
  });

  it('left alone, the picture becomes the proof, and looks no different', async () => {
    const quick = await picture();
    await until('the proof', async () => (await text('[data-testid="picture"]')).includes('proof'));
    (await picture()).forEach((value, c) => expect(Math.abs(value - quick[c])).toBeLessThan(2));
  });

  it('a step is added where the plus shows it, switched off by a key, and taken away', async () => {
    await press('Add a finishing step');
    await until('the place shown', async () => (await text('[data-testid="draft"]')).includes('goes here'));
    await (await page.waitForSelector('::-p-text(Sets black, middle and white)'))?.click();
    await until('the bead', () => page.$('[data-path="cloth.steps[0]"]'));
    await page.keyboard.press('x');
    await until('it off', async () =>
      (await page.$eval('[data-path="cloth.steps[0]"]', (node) => node.getAttribute('aria-label')))?.includes('off'),
    );
    await page.keyboard.press('Delete');
    await until('it gone', async () => !(await page.$('[data-path="cloth.steps[0]"]')));
    await kept();
  });

  it('values under the pointer, zoom and keys work', async () => {
    await page.keyboard.press('?');
    await until('the keys', async () => (await text('body')).includes('one pixel on one pixel'));
    await page.keyboard.press('Escape');
    await page.mouse.move(480, 300);
    await until('values', async () => /Ha 0\.\d+/.test(await text('[data-testid="picture"]')));
    await page.keyboard.press('1');
    await until('one to one', async () => (await text('[data-testid="zoom"]')) === '100 %');
    await page.keyboard.press('0');
    await until('the whole', async () => (await text('[data-testid="zoom"]')) !== '100 %');
  });

  it('a layer is laid on through a mask that is made by one press, and modes are tried by key', async () => {
    await press('layer on top');
    await page.waitForSelector('[data-path="cloth.layers[1]"]');
    const mode = () => page.$eval('[role="toolbar"] [aria-pressed="true"]', (node) => node.textContent);
    await until('the new layer on the bench', async () => (await mode()) === 'screen');
    await until('its picture', () => page.$('[data-shown="cloth.layers[1]@cloth"], [data-shown="cloth.layers[1]"]'));
    await press('New mask');
    await (await page.waitForSelector('::-p-text(where OIII is bright)'))?.click();
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
    await press('the rest');
    await kept();
  });

  it('a stroke of the brush stands on the picture at once and in the mask after it, and can be taken back', async () => {
    await page.keyboard.press('m');
    await until('the picture under a veil', () => page.$('[data-shown="cloth.layers[1]@cloth"]'));
    const before = await picture();
    await press('Paint on the picture');
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
    await until('word of it', async () => (await text('[data-testid="bench"]')).includes('1 stroke'));
    await press('last');
    await until('it gone', async () => (await text('[data-testid="bench"]')).includes('Nothing is painted'));
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await until('it back', async () => (await text('[data-testid="bench"]')).includes('1 stroke'));
    await press('Put the brush down');
    await kept();
  });

  it('a luminance beside the colours changes the picture', async () => {
    await page.click('[data-path="cloth.layers[0]"]');
    await page.waitForSelector('[aria-label="Ha in luminance"]');
    await page.focus('[aria-label="Ha in luminance"]');
    await page.keyboard.press('PageUp');
    await kept();
    await page.click('[data-path="cloth"]');
    await until('the cloth', () => page.$('[data-shown="cloth"]'));
  });

  it('a file is written and lies in Exports', async () => {
    await press('Write file');
    await press('PNG');
    await press('Write');
    await press('Exports');
    await page.waitForSelector('main h1');
    await until('the file', async () => (await text('main')).includes('.png'));
    const [name] = await readdir(join(root, 'exports'));
    const meta = await sharp(join(root, 'exports', name)).metadata();
    expect([meta.width, meta.height, meta.depth, meta.icc !== undefined]).toEqual([width, height, 'ushort', true]);
  });
});

describe('two places, one core', () => {
  it('the browser and the server give the same pixels at 1:1', async () => {
    const [target] = (await (await fetch(`${running.address}/api/targets`)).json()) as {
      id: string;
      recipes: { id: string }[];
    }[];
    const stacks = (await (await fetch(`${running.address}/api/targets/${target.id}/stacks`)).json()) as {
      name: string;
      pixels: string;
      width: number;
      height: number;
      exposure: number;
    }[];
    const { body } = (await (await fetch(`${running.address}/api/recipes/${target.recipes[0].id}`)).json()) as {
      body: unknown;
    };
    const { job } = (await (
      await fetch(`${running.address}/api/targets/${target.id}/exports`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ recipeId: target.recipes[0].id, format: 'fits' }),
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
      await fetch(`${running.address}/api/targets/${target.id}/measure`, {
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

describe('when the database goes', () => {
  it('the page says so, keeps the edit, and saves it when it is back', async () => {
    hand.expected = /503|Failed to load/;
    await press('Loom');
    await page.waitForSelector('[aria-label="SII in blue"]');
    await kept();
    process.kill(Number(await readFile(join(root, 'db', 'db.pid'), 'utf8')), 'SIGKILL');
    await page.focus('[aria-label="SII in blue"]');
    await page.keyboard.press('PageUp');
    await until('word of it', async () => (await text('header')).includes('kept on this page'));
    await kept();
    const rows = await running.studio.data.query(
      'SELECT JSON_VALUE(body, "$.cloth.layers[0].of.mix.blue.SII") AS weight FROM revisions ORDER BY createdAt DESC LIMIT 1',
    );
    expect(Number(rows[0].weight)).toBe(0.25);
    hand.expected = undefined;
  });
});

describe('all along', () => {
  it('the page has made no complaint', () => expect(hand.troubles).toEqual([]));
});
