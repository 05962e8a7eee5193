import { describe, expect, it } from 'vitest';
import { RecipeWorker } from './recipe-worker';
import { planes, recipe, stacks, width, withServer } from './testing';

withServer();

describe('where a colour comes from', () => {
  const rect = { x: 100, y: 80, width: 7, height: 5 };
  const sum = (rows: readonly (readonly number[])[]): number[] =>
    [0, 1, 2].map((p) => rows.reduce((all, row) => all + row[p], 0));
  const meanOf = (id: string): number => {
    let all = 0;
    for (let y = 80; y < 85; y++) for (let x = 100; x < 107; x++) all += planes[id][y * width + x];
    return all / 35;
  };

  it('is told exactly of linear images: each strand by its weight', async () => {
    const woven = new RecipeWorker();
    const mix = { red: { A: 0.7, B: 0.6 }, green: { B: 1 }, blue: { A: 1 } };
    woven.set(
      {
        format: 'owl-loom-recipe',
        version: 1,
        strands: ['A', 'B'].map((id) => ({ id, from: { stack: id } })),
        cloth: { layers: [{ of: { mix } }, { of: { mix }, visible: false }] },
      },
      stacks,
    );
    const told = await woven.origin(rect);
    const [{ strands, change }] = told?.rows ?? [];
    expect(told?.rows).toHaveLength(1);
    expect(strands.map(({ id }) => id)).toEqual(['A', 'B']);
    expect(strands[0].share).toEqual([0.7 * meanOf('a'), 0, meanOf('a')].map((v) => expect.closeTo(v, 6)));
    expect(strands[1].share).toEqual([0.6 * meanOf('b'), meanOf('b'), 0].map((v) => expect.closeTo(v, 6)));
    expect(change).toEqual(sum(strands.map(({ share }) => share)).map((v) => expect.closeTo(v, 6)));
  });

  it('adds up to what is seen, through stretches, masks, blends and finishing steps', async () => {
    const woven = new RecipeWorker();
    woven.set(
      {
        format: 'owl-loom-recipe',
        version: 1,
        strands: ['A', 'B'].map((id) => ({ id, from: { stack: id } })),
        masks: [{ id: 'half', of: { colour: '#808080' } }],
        cloth: {
          layers: [
            { of: { mix: { red: { A: 1 }, green: { A: 0.5, B: 0.5 }, blue: { B: 1 } } }, steps: [{ do: 'stretch' }] },
            {
              of: { strand: 'B' },
              steps: [{ do: 'stretch' }, { do: 'tint', colour: '#ffb14a' }],
              blend: 'screen',
              mask: 'half',
            },
          ],
          steps: [
            { do: 'saturation', amount: 0.3 },
            { do: 'levels', black: 0.05 },
          ],
        },
      },
      stacks,
    );
    const told = await woven.origin(rect);
    const { planes: seen } = await woven.region(rect, ['cloth']);
    const colour = seen.cloth.map(({ mean }) => mean);
    expect(told?.colour).toEqual(colour.map((v) => expect.closeTo(v, 5)));
    expect(sum((told?.rows ?? []).map(({ change }) => change))).toEqual(colour.map((v) => expect.closeTo(v, 5)));
    expect(told?.rows.map(({ path }) => path)).toEqual([
      'cloth.layers[0]',
      'cloth.layers[1]',
      'cloth.steps[0]',
      'cloth.steps[1]',
    ]);
    expect(told?.rows[1].mask).toBeCloseTo(0x80 / 255, 5);
    expect(told?.rows[0].mask).toBeNull();
    const [{ change, strands }] = told?.rows ?? [];
    expect(sum(strands.map(({ share }) => share))).toEqual(change.map((v) => expect.closeTo(v, 5)));
    // Red is all A's, blue all B's.
    expect(strands[0].share[2]).toBeCloseTo(0, 6);
    expect(strands[1].share[0]).toBeCloseTo(0, 6);
  });

  it('is not told where there is no cloth, nor outside the frame', async () => {
    const woven = new RecipeWorker();
    woven.set(recipe, stacks);
    expect(await woven.origin(rect)).toBeNull();
    woven.set({ ...recipe, cloth: { layers: [{ of: { strand: 'A' } }] } }, stacks);
    expect(await woven.origin({ x: 5000, y: 0, width: 3, height: 3 })).toBeNull();
  });
});
