import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RunningServer } from '../apps/server/main/start';
import { AppFixture, stackFile } from './evening';
import type { PageDriver } from './hand';
import { field, height, width } from './turned-field';

let evening: AppFixture;
let running: RunningServer;
let hand: PageDriver;
let page: Page;
let targetId: string;

const recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Linear',
  strands: ['R', 'G', 'Ha'].map((id) => ({ id, from: { stack: id }, steps: [] as object[] })),
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: 1 }, green: { R: 1 }, blue: { G: 1 } }, weights: 'share' },
        steps: [{ do: 'stretch' }],
      },
    ],
  },
};

const send = async (path: string, method: string, body: object): Promise<{ id: string }> => {
  const response = await fetch(`${running.address}/api${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  return (await response.json()) as { id: string };
};

beforeAll(async () => {
  evening = await AppFixture.begin();
  ({ hand, running } = evening);
  page = hand.page;
  for (const [filter, plane] of Object.entries({
    R: field(0, 0, 0, 0.004, 1),
    G: field(0, 0, 0, 0.002, 2),
    Ha: field(2.4, 9, -4, 0.05, 3),
  })) {
    await writeFile(join(evening.root, 'inbox', `set_${filter}.fits`), stackFile(filter, plane, width, height));
  }
  targetId = (await send('/targets', 'POST', { name: 'Field' })).id;
});

afterAll(() => evening?.end());

describe('a set of stacks', () => {
  it('comes in from the inbox in one go', async () => {
    await page.goto(`${running.address}/targets/${targetId}/stacks`);
    await hand.press('From the inbox');
    await hand.press('Import 3 files');
    await hand.until('three stacks', async () => (await page.$$('tbody tr')).length === 3);
  });

  it('tells in words how each lies, and shows it', async () => {
    await hand.until('what is wrong', async () =>
      /otated 2.4° and shifted 9.[89] px/.test(await hand.text('[aria-label="Alignment"]')),
    );
    await hand.until('what is right', async () => /ligned/.test(await hand.text('[aria-label="Alignment"]')));
    await hand.press(/^Ha.*rotated/);
    await hand.press('wipe');
    await hand.until('the two', () => page.$('[data-testid="stack-picture"][data-compare="wipe"]'));
    const asItIs = await hand.picture('[data-testid="stack-picture"] canvas');
    await hand.press('difference');
    await hand.press('aligned');
    await hand.until(
      'the difference',
      async () => Math.abs((await hand.picture('[data-testid="stack-picture"] canvas'))[0] - asItIs[0]) > 10,
    );
  });

  it('is aligned in every recipe by one press', async () => {
    const { id } = await send(`/targets/${targetId}/recipes`, 'POST', { body: recipe });
    await page.reload();
    await hand.press(/^Align Ha in every recipe/);
    await hand.until('the recipe mended', async () => {
      const { body } = (await (await fetch(`${running.address}/api/recipes/${id}`)).json()) as { body: typeof recipe };
      return JSON.stringify(body.strands[2].steps) === JSON.stringify([{ do: 'align', to: 'R' }]);
    });
  });
});

describe('the picture at the loom', () => {
  /** Opens a list by its button and takes an entry by how it begins. */
  const take = async (button: string, entry: string) => {
    await hand.press(button);
    await hand.entry(entry);
  };
  const boxes = async () => (await page.$$('[data-box]')).length;
  const area = async () => {
    const found = await (await page.$('[data-testid="picture"]'))?.boundingBox();
    if (!found) throw new Error('no picture');
    return found;
  };
  const choose = async (path: string) => {
    await hand.click(`[data-path="${path}"]`);
    await hand.until(`the picture of ${path}`, () => page.$(`[data-testid="picture"][data-shown^="${path}"]`));
  };
  /** Draws a rectangle with Shift about a place of the picture, given as shares of its width and height. */
  const region = async (x: number, y: number) => {
    const { x: left, y: top, width: w, height: h } = await area();
    await page.keyboard.down('Shift');
    await hand.dragFrom(left + x * w, top + y * h, 60, 50);
    await page.keyboard.up('Shift');
    await page.waitForSelector('[aria-label="Region"]');
  };

  it('is held against the state before by a wipe, side by side, by turns, and by difference', async () => {
    await hand.press('Loom');
    await choose('strands[2].steps[0]');
    for (const how of ['wipe', 'side', 'blink']) {
      await page.keyboard.press('b');
      await hand.until(how, () => page.$(`[data-testid="picture"][data-compare="${how}"]`));
    }
    await page.keyboard.press('b');
    await hand.until('what lies between them', async () =>
      /of the view differs/.test(await hand.text('[data-testid="picture"]')),
    );
    await page.keyboard.press('b');
    await hand.until('how far colours have moved', async () =>
      /changed hue by more/.test(await hand.text('[data-testid="drift"]')),
    );
    await page.keyboard.press('b');
    await hand.until('one picture', async () => (await page.$('[data-testid="drift"], [data-compare]')) === null);
  });

  it('marks its stars', async () => {
    await page.keyboard.press('s');
    const count = await hand.until(
      'stars',
      async () => /(\d+) stars/.exec(await hand.text('[data-testid="picture"]'))?.[1],
    );
    expect(Number(count)).toBeGreaterThan(60);
    expect(Number(count)).toBeLessThan(170);
    await page.keyboard.press('s');
  });

  it('tells of a drawn rectangle for every strand, and takes it for the sky', async () => {
    await region(0.7, 0.2);
    await hand.until('all strands', async () => (await page.$$('[aria-label="Region"] tbody tr')).length === 6);
    const rows = await page.$$eval('[aria-label="Region"] tbody tr', (all) =>
      all.map((row) => (row as HTMLElement).innerText.split(/\s+/)),
    );
    // Away from the gas every strand shows its sky.
    expect(Number(rows[0][1])).toBeCloseTo(0.02, 2);
    await hand.press('Use as sky background');
    await hand.kept();
    await hand.click('[data-path="cloth"]');
    await hand.until('the sky on the picture', () => page.$('[data-rect="sky"]'));
    const before = await hand.text('[data-testid="bench"]');
    await hand.press('Find automatically');
    await hand.until(
      'another place',
      async () => (await hand.text('[data-testid="bench"]')) !== before && (await page.$('[data-rect="sky"]')) !== null,
    );
  });

  it('takes a drawn rectangle for the step that is chosen', async () => {
    await choose('strands[0]');
    await take('Add a step to R', 'linear fit');
    await region(0.3, 0.5);
    await hand.press('Fit in this region');
    await hand.until('the region', async () => (await hand.text('[data-testid="bench"]')).includes('Region'));
    await hand.until('its mark', () => page.$('[data-rect="own"]'));
    await page.keyboard.press('Delete');
  });

  it('is moved and turned by hand, and levelled by a drawn line', async () => {
    await choose('strands[1]');
    await take('Add a step to G', 'transform');
    await page.waitForSelector('[data-handle="middle"]');
    await hand.drag('[data-handle="middle"]', 30, -20);
    expect(await hand.until('a move', () => hand.field('Shift x'))).toBeGreaterThan(5);
    expect(await hand.field('Shift y')).toBeGreaterThan(5);
    await hand.press('Straighten by a line');
    const { x, y, width: w, height: h } = await area();
    await hand.dragFrom(x + w / 4, y + h / 2, 200, -20);
    const turned = await hand.until('a turn', () => hand.numberNear(-5.711, 0.3));
    expect(turned).toBeDefined();
    await page.keyboard.press('Delete');
  });

  it('a fit for the whole set is one press', async () => {
    await choose('strands[1]');
    await take('Add a step to G', 'linear fit');
    await hand.press(/^Fit the other strand to R too/);
    const steps = () =>
      page.$$eval('[data-path^="strands["][data-path*="steps["]', (beads) =>
        beads.map((bead) => (bead as HTMLElement).innerText),
      );
    await hand.until(
      'a fit on each but the reference',
      async () => (await steps()).filter((name) => name.includes('linear fit')).length === 2,
    );
    await hand.press('Undo (Ctrl+Z)');
    await hand.press('Undo (Ctrl+Z)');
    await hand.until('none', async () => (await steps()).every((name) => !name.includes('linear fit')));
  });

  it('the cloth is levelled by a line, and cut to a drawn rectangle', async () => {
    await hand.click('[data-path="cloth"]');
    await hand.until('the cloth', () => page.$('[data-testid="picture"][data-shown="cloth"]'));
    await region(0.4, 0.4);
    await hand.press('Export only this region');
    await hand.until('the rectangle', () => page.$('[data-rect="written"]'));
    await hand.press('Undo (Ctrl+Z)');
    await hand.until('no rectangle', async () => (await page.$('[data-rect="written"]')) === null);
    await hand.press('Straighten by a line');
    const { x, y, width: w, height: h } = await area();
    await hand.dragFrom(x + w / 4, y + h / 2, 200, 20);
    await hand.until('a turn', () => hand.numberNear(5.711, 0.3));
    await hand.press('Undo (Ctrl+Z)');
    await hand.kept();
  });

  it('a gradient shows its sample boxes; they are added and removed on the picture', async () => {
    await choose('strands[1]');
    await take('Add a step to G', 'gradient');
    // those estimated from a coarse level are other ones: only what has settled stays
    await hand.until('boxes', async () => (await boxes()) > 4);
    await hand.settled();
    const before = await boxes();
    const { x, y, width: w, height: h } = await area();
    await page.mouse.click(x + w / 2 + 7, y + h / 2 + 5, { count: 2 });
    await hand.until('one box more', async () => (await boxes()) === before + 1);
    await hand.kept();
    await hand.press('Undo (Ctrl+Z)');
    await hand.until('the boxes as before', async () => (await boxes()) === before);
    await page.keyboard.press('Delete');
    await hand.until('no boxes', async () => (await boxes()) === 0);
  });

  it('a formula underlines what it does not know, keeps the last picture, and shows what it gives when it is right', async () => {
    await take('strand', 'formula');
    await page.waitForSelector('.cm-content');
    await hand.click('.cm-content');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type('Ha + nowhere ');
    await page.waitForSelector('.cm-lintRange-error');
    await hand.until('the fault', async () =>
      (await hand.text('[role="alert"]')).includes('line 1, column 6: there is no strand or variable nowhere'),
    );
    expect(Math.max(...(await hand.picture()))).toBeGreaterThan(5);
    for (let k = 0; k < 'nowhere '.length; k++) await page.keyboard.press('Backspace');
    await page.keyboard.type('0.5 * R ');
    await hand.until('no fault', async () => (await page.$$('[role="alert"]')).length === 0);
    await hand.until('its picture', () => page.$('[data-testid="picture"][data-shown^="strands[3]"]'));
    await page.keyboard.press('Escape');
    await hand.press('Remove strand');
    await hand.kept();
  });

  it('all along, the page has made no complaint', () => expect(hand.troubles).toEqual([]));
});
