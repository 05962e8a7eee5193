import { readFile, readdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addNoise, scene } from '@owl-loom/testing/random';
import type { RunningServer } from '../apps/server/main/start';
import { AppFixture, stackFile } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [420, 300];
let evening: AppFixture;
let root: string;
let running: RunningServer;
let hand: PageDriver;
let page: Page;
const until: PageDriver['until'] = (what, look) => hand.until(what, look);
const text = (selector: string) => hand.text(selector);
const press = (name: string | RegExp) => hand.press(name);
const picture = () => hand.picture();
const kept = () => hand.kept();
const drag = (selector: string, dx: number, dy: number) => hand.drag(selector, dx, dy);

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand, root, running } = evening);
  page = hand.page;
  const of = scene(90, width, height, { clouds: 0.05 });
  const files = {
    Ha: addNoise(of, 0, 1, 0.0008, 1),
    OIII: addNoise(of.slice().reverse(), 0.004, 0.3, 0.0004, 2),
    SII: addNoise(scene(91, width, height), 0.002, 0.2, 0.0004, 3),
  };
  for (const [filter, plane] of Object.entries(files))
    await writeFile(join(root, `moth_${filter}.fits`), stackFile(filter, plane, width, height));
});

afterAll(() => evening?.end());

describe('a first evening with Owl Loom', () => {
  it('an empty shelf says what to do, and takes a target', async () => {
    await page.goto(running.address);
    await until('the empty shelf', async () => (await text('body')).includes('The shelf is empty'));
    await press('Create a target');
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
    await until('what is wrong with SII', async () => /do not match/.test(await text('[aria-label="Alignment"]')));
    expect(await page.$('[data-sonner-toast]')).toBeNull();
  });

  it('a recipe is begun from what is there, and the picture comes', async () => {
    await press('SHO');
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
    // The recipe began with what this stack needs: it lies upside down on the others.
    await page.waitForSelector('[data-path="strands[1].steps[0]"]');
    expect(await text('[data-path="strands[1].steps[0]"]')).toBe('align');
    await hand.click('[data-path="strands[1].steps[1]"]');
    await until('the strand', () => page.$('[data-shown="strands[1].steps[1]"]'));
    await until('the figures', async () => (await text('[data-testid="bench"]')).toLowerCase().includes('slope'));
    await until('how they were found', async () => /→ (pixels|levels)/.test(await text('[data-testid="bench"]')));
    expect(await page.$('[aria-label^="OIII against Ha"]')).not.toBeNull();
    await until('settled figures', async () => !(await text('[data-testid="picture"]')).includes('Refining'));
  });

  it('a slider of a stretch changes the picture', async () => {
    await hand.click('[data-path="cloth.layers[0]"]');
    // A start levels the sky first.
    await page.waitForSelector('[data-path="cloth.layers[0].steps[1]"]');
    await hand.click('[data-path="cloth.layers[0].steps[1]"]');
    await until('the stretched layer', () => page.$('[data-shown="cloth.layers[0].steps[1]"]'));
    await until('settled', async () => !(await text('[data-testid="picture"]')).includes('Refining'));
    const before = await picture();
    await drag('[role="slider"][aria-label="sky target"]', 40, 0);
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
    await page.keyboard.type('histogram');
    await until('what is meant by it', async () => (await page.$$('[role="option"]')).length === 2);
    await hand.click('::-p-text(Sets black point, midtones and white point)');
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
    await until('the keys', async () => (await text('body')).includes('1:1 (100 %)'));
    await page.keyboard.press('Escape');
    await page.mouse.move(480, 300);
    await until('values', async () => /Ha 0\.\d+/.test(await text('[data-testid="picture"]')));
    await page.keyboard.press('1');
    await until('one to one', async () => (await text('[data-testid="zoom"]')) === '100 %');
    await page.keyboard.press('0');
    await until('the whole', async () => (await text('[data-testid="zoom"]')) !== '100 %');
  });

  it('a luminance beside the colours changes the picture', async () => {
    await hand.click('[data-path="cloth.layers[0]"]');
    await page.waitForSelector('[aria-label="Ha in luminance"]');
    await page.focus('[aria-label="Ha in luminance"]');
    await page.keyboard.press('PageUp');
    await kept();
    await hand.click('[data-path="cloth"]');
    await until('the cloth', () => page.$('[data-shown="cloth"]'));
  });

  it('a file is written and lies in Exports', async () => {
    await press('Export …');
    await press('TIFF');
    await press('PNG');
    await hand.press('Export', '[role="dialog"]');
    await press('Exports');
    await page.waitForSelector('main h1');
    await until('the file', async () => (await text('main')).includes('.png'));
    const name = (await readdir(join(root, 'exports'))).find((one) => one.endsWith('.png')) ?? '';
    const meta = await sharp(join(root, 'exports', name)).metadata();
    expect([meta.width, meta.height, meta.depth, meta.icc !== undefined]).toEqual([width, height, 'ushort', true]);
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
    await until('word of it', async () => (await text('header')).includes('Not saved yet'));
    await kept();
    const rows = await running.services.data.query(
      'SELECT JSON_VALUE(body, "$.cloth.layers[0].of.mix.blue.SII") AS weight FROM revisions ORDER BY createdAt DESC LIMIT 1',
    );
    expect(Number(rows[0].weight)).toBe(0.25);
    hand.expected = undefined;
  });
});

describe('all along', () => {
  it('the page has made no complaint', () => expect(hand.troubles).toEqual([]));
});
