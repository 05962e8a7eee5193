import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import { frameImageId } from '@owl-loom/engine/graph';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { Recipe } from '@owl-loom/recipe/schema';
import { RecipeWorker } from './recipe-worker';
import { height, mean, planes, recipe, stacks, width, withServer } from './testing';

withServer();

const open = (): RecipeWorker => {
  const scene = new RecipeWorker();
  const reply = scene.set(recipe, stacks);
  expect(reply.faults).toEqual([]);
  return scene;
};
const rect = { x: 0, y: 0, width, height };

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
    const scene = new RecipeWorker();
    const { beside: paths } = scene.set(recipe, stacks, beside);
    expect(paths['strands[2]'].domain).toBe('stretched');
    const display = { mode: 'bright', other: 'strands[2]', otherIsBeside: true } as const;
    const both = await scene.draw('strands[2]', rect, 0, display);
    const alone = new RecipeWorker();
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
    const scene = new RecipeWorker();
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
    const scene = new RecipeWorker();
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
    const scene = new RecipeWorker();
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
    const found = await scene.findDarkestFlatRect(['strands[0]', 'strands[1]', 'strands[2]']);
    expect(found).not.toBeNull();
    if (!found) return;
    expect(found.x >= 0 && found.y >= 0 && found.x + found.width <= width && found.y + found.height <= height).toBe(
      true,
    );
    const { planes: there } = await scene.region(found, ['strands[0]']);
    const { planes: all } = await scene.region(rect, ['strands[0]']);
    expect(there['strands[0]'][0].median).toBeLessThan(all['strands[0]'][0].median);
    expect(await scene.findDarkestFlatRect([])).toBeNull();
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
    const name = frameImageId(graph, graph.byPath.get('strands[0].steps[0]') ?? -1);
    // What no step would have made of the stack.
    planes[name] = new Float32Array(width * height).fill(0.375);
    const scene = new RecipeWorker();
    scene.set(kept, stacks);
    const value = async (path: string) => (await scene.probe(70, 60, [path]))[path][0];
    expect(await value('strands[0]')).not.toBeCloseTo(0.75, 3);
    scene.addProof(name);
    expect(await value('strands[0].steps[0]')).not.toBe(0.375);
    expect(await value('strands[0]')).toBe(0.75);
    expect(await value('strands[1]')).toBe(1.75);
    const coarse = await scene.draw('strands[0]', { x: 0, y: 0, width: 75, height: 55 }, 2, { mode: 'true' });
    expect(mean(coarse.bitmap)).toBeCloseTo(0.75 * 255, 0);
  });

  it('goes on with what a step measured last when others of its figures are held', async () => {
    const scene = new RecipeWorker();
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
    node.measurements.forEach(({ kind }, i) => {
      if (found[kind]) scene.addMeasurements({ [node.measurementKeys[i]]: { kind, ...found[kind] } as Measurement });
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
    const fit: Measurement = {
      kind: 'fit',
      planes: [
        { method: 'pixels', a: 5, b: 0, aError: 0, bError: 0, correlation: 1, scatter: 0, used: 1, rejected: 0 },
      ],
      sample: [],
    };
    const before = (await scene.probe(10, 10, ['strands[1]']))['strands[1]'][0];
    expect(before).toBeLessThan(1);
    for (const key of guessed) scene.addMeasurements({ [key]: fit });
    // Keys of tones got a measurement of another kind and are not asked here; the fit's own is what the pixel shows.
    expect((await scene.probe(10, 10, ['strands[1]']))['strands[1]'][0]).toBe(5);
  });

  it('takes over what another has guessed', async () => {
    const [scene, other] = [open(), open()];
    const { guessed } = await scene.draw('strands[1]', rect, 1, { mode: 'bright' });
    expect(guessed.length).toBeGreaterThan(0);
    const guesses = Object.entries(scene.guessed()).map(([key, figure]) => [
      key,
      figure.kind === 'fit' ? { ...figure, planes: figure.planes.map((plane) => ({ ...plane, a: 7, b: 0 })) } : figure,
    ]);
    other.addEstimates(Object.fromEntries(guesses));
    const seen = async (which: typeof scene) => (await which.probe(10, 10, ['strands[1]']))['strands[1]'][0];
    expect(await seen(scene)).toBeLessThan(1);
    expect(await seen(other)).toBe(7);
  });
});
