import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { buildGraph } from '../../core/engine/build';
import { pictureId } from '../../core/engine/graph';
import type { Figure } from '../../core/figures/index';
import { halve, levelSize, TILE } from '../../core/raster/levels';
import type { Recipe } from '../../core/recipe/schema';
import { observed, scene as clouds } from '../../core/testing/random';
import type { WorkerStack } from './protocol';
import { WorkerScene } from './scene';

const [width, height] = [300, 220];

/** Two stacks of one field, the second at half the brightness, and what a server would give of them. */
const field = clouds(4, width, height, { clouds: 0.05 });
const planes: Record<string, Float32Array> = {
  a: observed(field, 0, 1, 0.0004, 1),
  b: observed(field, 0.001, 0.5, 0.0004, 2),
};
const stacks: WorkerStack[] = ['a', 'b'].map((id) => ({
  name: id.toUpperCase(),
  info: { id, width, height, planes: 1, domain: 'linear' },
}));

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'A', from: { stack: 'A' }, steps: [] },
    { id: 'B', from: { stack: 'B' }, steps: [{ do: 'linear-fit', to: 'A' }] },
    { id: 'shown', from: { strand: 'A' }, steps: [{ do: 'stretch' }] },
  ],
};

interface Bitmap {
  readonly data: Uint8ClampedArray;
  readonly width: number;
}

beforeAll(() => {
  vi.stubGlobal('fetch', async (address: string) => {
    const [, , , id, , , level, , tx, ty] = address.split('/');
    let plane = planes[id];
    for (let l = 0; l < Number(level); l++) plane = halve(plane, levelSize(width, l), levelSize(height, l));
    const [w, h] = [levelSize(width, Number(level)), levelSize(height, Number(level))];
    const tile = new Float32Array(TILE * TILE).fill(Number.NaN);
    for (let y = 0; y < Math.min(TILE, h - Number(ty) * TILE); y++)
      for (let x = 0; x < Math.min(TILE, w - Number(tx) * TILE); x++)
        tile[y * TILE + x] = plane[(y + Number(ty) * TILE) * w + x + Number(tx) * TILE];
    return { ok: true, arrayBuffer: async () => tile.buffer };
  });
  vi.stubGlobal(
    'ImageData',
    class {
      constructor(
        readonly data: Uint8ClampedArray,
        readonly width: number,
      ) {}
    },
  );
  vi.stubGlobal('createImageBitmap', async (image: Bitmap) => image);
});

afterAll(() => void vi.unstubAllGlobals());

const open = (): WorkerScene => {
  const scene = new WorkerScene();
  const reply = scene.set(recipe, stacks);
  expect(reply.faults).toEqual([]);
  return scene;
};
const rect = { x: 0, y: 0, width, height };
/** Mean of a bitmap's red. */
const mean = (bitmap: unknown): number => {
  const { data } = bitmap as Bitmap;
  let sum = 0;
  for (let i = 0; i < data.length; i += 4) sum += data[i];
  return (4 * sum) / data.length;
};

describe('the scene in the worker', () => {
  it('draws two images under one brightness, where both are linear', async () => {
    const scene = open();
    const { bitmap, other, guessed } = await scene.draw('strands[1]', rect, 0, {
      mode: 'bright',
      other: 'strands[1].from',
    });
    expect(guessed.length).toBeGreaterThan(0);
    // Before the fit the image is half as bright: under the same brightness it looks darker, while by itself it would look alike.
    expect(mean(other)).toBeLessThan(0.8 * mean(bitmap));
    const alone = await scene.draw('strands[1].from', rect, 0, { mode: 'bright' });
    expect(Math.abs(mean(alone.bitmap) / mean(bitmap) - 1)).toBeLessThan(0.1);
  });

  it('gives a linear image its own brightness beside a stretched one', async () => {
    const { bitmap, other } = await open().draw('strands[2]', rect, 0, { mode: 'bright', other: 'strands[2].from' });
    expect(Math.abs(mean(other) / mean(bitmap) - 1)).toBeLessThan(0.25);
  });

  it('shows what a step took out around the middle grey', async () => {
    const { bitmap, other } = await open().draw('strands[2]', rect, 0, { mode: 'bright', less: 'strands[2].from' });
    expect(other).toBeNull();
    expect(mean(bitmap)).toBeLessThan(127);
    const none = await open().draw('strands[0]', rect, 0, { mode: 'bright', less: 'strands[0].from' });
    expect(mean(none.bitmap)).toBeCloseTo(127, -1);
  });

  it('holds an image against one of another recipe, which is made by that recipe', async () => {
    const beside: Recipe = {
      ...recipe,
      strands: [...recipe.strands.slice(0, 2), { id: 'shown', from: { strand: 'B' }, steps: [{ do: 'stretch' }] }],
    };
    const scene = new WorkerScene();
    const { beside: paths } = scene.set(recipe, stacks, beside);
    expect(paths['strands[2]'].domain).toBe('stretched');
    const display = { mode: 'bright', other: 'strands[2]', otherIsBeside: true } as const;
    const both = await scene.draw('strands[2]', rect, 0, display);
    const alone = new WorkerScene();
    alone.set(beside, stacks);
    const its = await alone.draw('strands[2]', rect, 0, { mode: 'bright' });
    expect(both.other).toEqual(its.bitmap);
    // A hand that moves in the open recipe leaves the one beside it as it is; without one there is nothing to hold against.
    scene.set({ ...recipe, strands: recipe.strands.slice(0, 3) }, stacks, beside);
    expect((await scene.draw('strands[2]', rect, 0, display)).other).toEqual(its.bitmap);
    scene.set(recipe, stacks);
    expect((await scene.draw('strands[2]', rect, 0, display)).other).toBeNull();
  });

  it('is not spoilt by a recipe beside it that cannot be made', async () => {
    const scene = new WorkerScene();
    const gone: Recipe = { ...recipe, strands: [{ id: 'X', from: { stack: 'nowhere' } }] };
    const reply = scene.set(recipe, stacks, gone);
    expect(reply.faults).toEqual([]);
    expect(reply.beside).toEqual({});
    expect(reply.besideFault).toMatch(/nowhere/);
    // A fault in a part of it is told as well.
    const part: Recipe = { ...recipe, cloth: { layers: [{ of: { strand: 'nobody' } }] } };
    expect(scene.set(recipe, stacks, part).besideFault).toMatch(/nobody/);
    expect(scene.set(recipe, stacks).besideFault).toBeNull();
    scene.set(recipe, stacks, gone);
    const display = { mode: 'bright', other: 'cloth', otherIsBeside: true } as const;
    expect((await scene.draw('strands[2]', rect, 0, display)).other).toBeNull();
  });

  it('shows what lies between two images around the middle grey, and how far they lie apart', async () => {
    const half: Recipe = {
      ...recipe,
      strands: [recipe.strands[0], { id: 'B', from: { strand: 'A' }, steps: [{ do: 'scale', add: 0.02 }] }],
    };
    const scene = new WorkerScene();
    scene.set(half, stacks);
    const display = { mode: 'true', other: 'strands[0]', apart: true } as const;
    const reply = await scene.draw('strands[1]', rect, 0, display);
    expect(reply.other).toBeNull();
    expect(reply.apart?.most).toBeCloseTo(0.02, 5);
    expect(reply.apart?.share).toBe(1);
    // What is brighter in the shown image is light.
    expect(mean(reply.bitmap)).toBeGreaterThan(200);
    const none = await scene.draw('strands[0]', rect, 0, display);
    expect(none.apart).toEqual({ most: 0, share: 0 });
    expect(mean(none.bitmap)).toBeCloseTo(127, -1);
  });

  it('tells where what the cloth is made of ends, and to which rectangle the cloth is cut', async () => {
    const moved: Recipe = {
      ...recipe,
      strands: recipe.strands.slice(0, 2),
      cloth: {
        layers: [
          { id: 'low', of: { strand: 'A' } },
          { id: 'high', of: { strand: 'A' }, steps: [{ do: 'place', dx: 20, dy: -12 }], blend: 'lighten' },
        ],
        extent: 'common',
      },
    };
    const scene = new WorkerScene();
    scene.set(moved, stacks);
    expect(await scene.edges()).toEqual({
      parts: [{ path: 'cloth.layers[1]', ends: { left: 20, right: 0, bottom: 0, top: 12 } }],
      exact: false,
      common: { x: 20, y: 0, width: width - 20, height: height - 12 },
    });
  });

  it('tells the statistics of a rectangle as the pixels have them', async () => {
    const region = { x: 40, y: 30, width: 70, height: 50 };
    const { planes: found, level } = await open().region(region, ['strands[0]', 'strands[7]']);
    expect(level).toBe(0);
    expect(Object.keys(found)).toEqual(['strands[0]']);
    const values: number[] = [];
    for (let y = 30; y < 80; y++) for (let x = 40; x < 110; x++) values.push(planes.a[y * width + x]);
    const [summary] = found['strands[0]'];
    expect(summary.mean).toBeCloseTo(values.reduce((sum, v) => sum + v, 0) / values.length, 7);
    expect(summary.min).toBe(Math.min(...values));
    expect(summary.max).toBe(Math.max(...values));
    expect(summary.noise / 0.0004).toBeCloseTo(1, 0);
  });

  it('finds a quiet place inside the frame, darker than the picture as a whole', async () => {
    const scene = open();
    const found = await scene.quiet(['strands[0]', 'strands[1]', 'strands[2]']);
    expect(found).not.toBeNull();
    if (!found) return;
    expect(found.x >= 0 && found.y >= 0 && found.x + found.width <= width && found.y + found.height <= height).toBe(
      true,
    );
    const { planes: there } = await scene.region(found, ['strands[0]']);
    const { planes: all } = await scene.region(rect, ['strands[0]']);
    expect(there['strands[0]'][0].median).toBeLessThan(all['strands[0]'][0].median);
    expect(await scene.quiet([])).toBeNull();
  });

  it('goes on from an image that the server has kept, wherever it is read and on every level', async () => {
    const kept: Recipe = {
      ...recipe,
      strands: [
        { id: 'A', from: { stack: 'A' }, steps: [{ do: 'denoise' }, { do: 'scale', multiply: 2 }] },
        { id: 'B', from: { formula: 'A + 1' } },
      ],
    };
    const graph = buildGraph(kept, new Map(stacks.map(({ name, info }) => [name, info])));
    const name = pictureId(graph, graph.byPath.get('strands[0].steps[0]') ?? -1);
    // What no step would have made of the stack.
    planes[name] = new Float32Array(width * height).fill(0.375);
    const scene = new WorkerScene();
    scene.set(kept, stacks);
    const value = async (path: string) => (await scene.probe(70, 60, [path]))[path][0];
    expect(await value('strands[0]')).not.toBeCloseTo(0.75, 3);
    scene.prove(name);
    expect(await value('strands[0].steps[0]')).not.toBe(0.375);
    expect(await value('strands[0]')).toBe(0.75);
    expect(await value('strands[1]')).toBe(1.75);
    const coarse = await scene.draw('strands[0]', { x: 0, y: 0, width: 75, height: 55 }, 2, { mode: 'true' });
    expect(mean(coarse.bitmap)).toBeCloseTo(0.75 * 255, 0);
  });

  it('goes on with what a step measured last when others of its figures are held', async () => {
    const scene = new WorkerScene();
    const held = (hold?: { k: number }): Recipe => ({
      format: 'owl-loom-recipe',
      version: 1,
      strands: [
        { id: 'A', from: { stack: 'A' }, steps: [{ do: 'continuum', broad: 'B', mend: true, ...(hold && { hold }) }] },
        { id: 'B', from: { stack: 'B' } },
      ],
    });
    scene.set(held(), stacks);
    const graph = buildGraph(held(), new Map(stacks.map(({ name, info }) => [name, info])));
    const node = graph.nodes[graph.byPath.get('strands[0]') ?? -1];
    const found: Record<string, object> = {
      continuum: { method: 'stars', k: 0.4, kError: 0.01, stars: 9, belowSky: 0, starlit: true },
      remains: { circles: [[150, 110, 9]] },
    };
    node.figures.forEach(({ kind }, i) => {
      if (found[kind]) scene.learn({ [node.figureKeys[i]]: { kind, ...found[kind] } as Figure });
    });
    const at = async (x: number, y: number) => (await scene.probe(x, y, ['strands[0]']))['strands[0]'][0];
    const before = [await at(150, 110), await at(20, 20)];
    scene.set(held({ k: 0.4 }), stacks);
    expect([await at(150, 110), await at(20, 20)]).toEqual(before);
    await scene.draw('strands[0]', rect, 0, { mode: 'bright' });
    expect(scene.describe().measured['strands[0].steps[0]']).toMatchObject({ method: 'held', k: 0.4, mended: 1 });
  });

  it('takes what was measured in place of its guesses', async () => {
    const scene = open();
    const { guessed } = await scene.draw('strands[1]', rect, 1, { mode: 'bright' });
    const fit: Figure = {
      kind: 'fit',
      planes: [
        { method: 'pixels', a: 5, b: 0, aError: 0, bError: 0, correlation: 1, scatter: 0, used: 1, rejected: 0 },
      ],
      sample: [],
    };
    const before = (await scene.probe(10, 10, ['strands[1]']))['strands[1]'][0];
    expect(before).toBeLessThan(1);
    for (const key of guessed) scene.learn({ [key]: fit });
    // Keys of tones got a figure of another kind and are not asked here; the fit's own is what the pixel shows.
    expect((await scene.probe(10, 10, ['strands[1]']))['strands[1]'][0]).toBe(5);
  });
});

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
    const woven = new WorkerScene();
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
    const woven = new WorkerScene();
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
    const woven = new WorkerScene();
    woven.set(recipe, stacks);
    expect(await woven.origin(rect)).toBeNull();
    woven.set({ ...recipe, cloth: { layers: [{ of: { strand: 'A' } }] } }, stacks);
    expect(await woven.origin({ x: 5000, y: 0, width: 3, height: 3 })).toBeNull();
  });
});
