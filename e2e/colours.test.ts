import { setTimeout as delay } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { requestJson } from '../apps/server/http/request-json';
import type { Recipe } from '@owl-loom/recipe/schema';
import { AppFixture, lineRecipe, threeLines } from './evening';
import type { PageDriver } from './hand';

const [width, height] = [260, 200];
const recipe: Recipe = {
  ...lineRecipe,
  name: 'Colours',
  cloth: {
    ...lineRecipe.cloth,
    layers: lineRecipe.cloth?.layers ?? [],
    steps: [
      {
        do: 'hue-bands',
        bands: [
          { centre: 140, width: 80, soft: 30 },
          { centre: 320, width: 40, soft: 10, chroma: 0.5 },
        ],
      },
      { do: 'curves' },
      { do: 'saturation', amount: 0.2 },
    ],
  },
};

let evening: AppFixture;
let hand: PageDriver;
let id: string;

beforeAll(async () => {
  evening = await AppFixture.begin();
  hand = evening.hand;
  ({ recipeId: id } = await evening.weave(threeLines(31, width, height), { width, height }, recipe));
});
afterAll(() => evening.end());

interface Band {
  centre: number;
  turn?: number;
  chroma?: number;
  off?: boolean;
}

/** A step of the finished cloth as the server keeps it. */
async function step(index: number): Promise<Record<string, unknown>> {
  const { body } = await requestJson<{ body: Recipe }>(evening.running.address, `/recipes/${id}`);
  return (body.cloth?.steps?.[index] ?? {}) as Record<string, unknown>;
}
const bands = async () => (await step(0)).bands as Band[];
const choose = (path: string) => hand.click(`[data-path="${path}"]`);
const ring = '[aria-label="Hues of the picture"]';

it('the ring shows the hues of the picture, and a family is pulled along it and nudged by keys', async () => {
  await choose('cloth.steps[0]');
  await hand.until('the share in view', async () => /[1-9][\d.]* %/.test(await hand.text(ring)));
  await hand.tabTo('[aria-label="hue shift on the ring"]');
  await hand.page.keyboard.press('ArrowUp');
  await hand.page.keyboard.press('ArrowUp');
  await hand.until('the turn', async () => (await bands())[0].turn === 4);
  await hand.drag(`${ring} [aria-label="centre on the ring"] .mark`, 40, 10);
  await hand.until('another middle', async () => (await bands())[0].centre < 130);
});

it('what a family does not hold is veiled, and one is left out for a look', async () => {
  const plain = await hand.picture();
  await hand.press('Show affected pixels');
  const spread = ([r, g, b]: number[]) => Math.max(r, g, b) - Math.min(r, g, b);
  await hand.until('the veil', async () => Math.abs(spread(await hand.picture()) - spread(plain)) > 0.5);
  await hand.press('Show affected pixels');
  await hand.press('Turn off');
  await hand.until('one left out', async () => (await bands())[0].off === true);
  await hand.press('Turn on');
  await hand.until('the same again', async () => (await bands())[0].off === undefined);
  await hand.press('Move later');
  await hand.until('another order', async () => (await bands())[0].centre === 320);
});

it('a touch of the picture finds the family, and a drag from there turns and enriches it', async () => {
  const before = await bands();
  await hand.press('Pick from the picture');
  const { x, y } = await hand.middle();
  const { mouse } = hand.page;
  await mouse.move(x, y);
  await mouse.down();
  await delay(500);
  await mouse.move(x + 40, y - 75, { steps: 6 });
  await mouse.up();
  await hand.until('a turned family', async () =>
    (await bands()).some(
      ({ turn = 0, chroma = 1 }, i) => Math.abs(turn - (before[i].turn ?? 0)) > 15 && chroma > (before[i].chroma ?? 1),
    ),
  );
  expect(await hand.named('Pick from the picture')).toBeTruthy();
});

it('the pixel under the pointer stands on the curve, and a touch sets a point there', async () => {
  await choose('cloth.steps[1]');
  const { x, y } = await hand.middle();
  await hand.page.mouse.move(x, y);
  await hand.until('three marks', async () => (await hand.page.$$('[data-pointed]')).length === 3);
  await hand.press('green');
  await hand.press('Pick points from the picture');
  // What the pixel is hangs on the measurements.
  await hand.settled();
  await hand.page.mouse.move(x, y);
  const [mark] = await hand.until('one mark', async () => {
    const marks = await hand.page.$$eval('[data-pointed]', (all) =>
      all.map((one) => Number(one.getAttribute('data-pointed'))),
    );
    return marks.length === 1 && marks;
  });
  await hand.page.mouse.click(x, y);
  const points = await hand.until('a point', async () => {
    const { green } = (await step(1)) as { green?: number[][] };
    return green?.length === 3 && green;
  });
  expect(points[1][0]).toBeCloseTo(mark, 2);
  expect(points[1][1]).toBeCloseTo(mark, 2);
});

it('the colours in view are told live', async () => {
  await choose('cloth.steps[2]');
  const plane = 'canvas[data-reach]';
  const light = async () => (await hand.picture(plane)).reduce((sum, v) => sum + v, 0);
  const before = await hand.until('colours', async () => (await hand.page.$(plane)) && (await light()));
  await hand.tabTo('[role="slider"][aria-label="amount"]');
  for (let i = 0; i < 12; i++) await hand.page.keyboard.press('ArrowRight');
  await hand.until('other colours', async () => (await light()) !== before);
});

it('a touched place tells where its colour comes from, and leads to the beads', async () => {
  await choose('cloth');
  await hand.press('Colour origin');
  const { x, y } = await hand.middle();
  await hand.page.mouse.click(x, y);
  const panel = '[aria-label="Colour origin"]';
  const told = await hand.until('an answer', async () => {
    const text = await hand.text(panel).catch(() => '');
    return text.includes('Total') && text;
  });
  expect(told).toMatch(/base[\s\S]*hues[\s\S]*curves[\s\S]*saturation[\s\S]*Total/i);
  const numbers = [...told.matchAll(/[+−]\d\.\d{3}/g)].map(([text]) => Number(text.replace('−', '-')));
  for (let p = 0; p < 3; p++) {
    const column = numbers.filter((_, i) => i % 3 === p);
    const sum = column.slice(0, -1).reduce((a, b) => a + b, 0);
    expect(Math.abs(sum - (column.at(-1) ?? 0))).toBeLessThan(0.004);
  }
  await hand.press(/^saturation/);
  await hand.until('its bench', async () => (await hand.text('[data-testid="bench"]')).includes('Saturation'));
  await hand.page.keyboard.press('Escape');
  await hand.until('no more of it', async () => !(await hand.page.$(panel)));
});

it('the drift map says how far colours have moved, and a guard warns', async () => {
  await choose('cloth.steps[2]');
  await hand.press('Compare');
  await hand.press('drift');
  await hand.press('chroma');
  await hand.until('words', async () =>
    /changed chroma by more than 0.02/.test(await hand.text('[data-testid="drift"]')),
  );
  await hand.press('Stop comparing');
  const { x, y } = await hand.middle();
  await hand.page.keyboard.down('Shift');
  await hand.dragFrom(x - 40, y - 30, 80, 60);
  await hand.page.keyboard.up('Shift');
  await hand.press('Guard colours');
  const guard = '[aria-label="Guarded region"]';
  await hand.until('a quiet guard', async () => /unchanged/.test(await hand.text(guard).catch(() => '')));
  await choose('cloth.layers[0]');
  await hand.tabTo('[role="slider"][aria-label="opacity"]');
  await hand.page.keyboard.press('PageDown');
  await hand.page.keyboard.press('PageDown');
  await hand.until('a warning', async () =>
    /changed (hue|lightness|chroma)/.test(await hand.text(`${guard} [role="alert"]`).catch(() => '')),
  );
  await hand.press('Stop guarding');
  expect(hand.troubles).toEqual([]);
});
