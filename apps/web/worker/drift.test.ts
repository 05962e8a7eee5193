import { describe, expect, it } from 'vitest';
import type { DriftView } from './protocol';
import { RecipeWorker } from './recipe-worker';
import { height, recipe, stacks, width, withServer } from './testing';
import type { Recipe } from '@owl-loom/recipe/schema';

withServer();

const whole = { x: 0, y: 0, width, height };
/** A stretched cloth in one hue, whose light is of one star field, and a step at its end. */
const cloth = (step: NonNullable<NonNullable<Recipe['cloth']>['steps']>[number]): Recipe => ({
  ...recipe,
  strands: ['A', 'B'].map((id) => ({ id, from: { stack: id } })),
  masks: [{ id: 'all', of: { colour: '#ffffff' } }],
  cloth: {
    layers: [{ id: 'base', of: { strand: 'A' }, steps: [{ do: 'stretch' }, { do: 'tint', colour: '#d0702a' }] }],
    steps: [step],
  },
});

const opened = (step: Parameters<typeof cloth>[0]): RecipeWorker => {
  const scene = new RecipeWorker();
  expect(scene.set(cloth(step), stacks).faults).toEqual([]);
  return scene;
};

describe('the map of how far colours have moved', () => {
  const look = async (scene: RecipeWorker, drift: DriftView) =>
    (await scene.draw('cloth', whole, 0, { mode: 'true', other: 'cloth.layers[0]', drift })).drift;

  it('tells a turn from a gain of colour', async () => {
    const turned = await look(opened({ do: 'hue-bands', bands: [{ centre: 0, width: 360, soft: 0, turn: 40 }] }), {
      kind: 'hue',
    });
    expect(turned?.hue).toBeGreaterThan(0.9);
    expect(turned?.lightness).toBeLessThan(0.1);
    const dulled = await look(opened({ do: 'saturation', amount: -0.6 }), { kind: 'chroma' });
    // The sky is dark, and has little colour to lose.
    expect(dulled?.chroma).toBeGreaterThan(0.5);
    expect(dulled?.hue).toBeLessThan(0.1);
  });

  it('counts nothing where a mask lets all through, nor in the rectangle that is left out', async () => {
    const scene = opened({ do: 'saturation', amount: -0.6 });
    expect(await look(scene, { kind: 'chroma', mask: 'masks[0]' })).toMatchObject({ chroma: 0, most: null });
    expect(await look(scene, { kind: 'chroma', within: whole })).toMatchObject({ chroma: 0, most: null });
    const half = await look(scene, { kind: 'chroma', within: { ...whole, width: 150 } });
    expect(half?.chroma).toBeGreaterThan(0.5);
    expect(half?.most).not.toBeNull();
    expect((half?.most?.x ?? 0) + width / 8).toBeGreaterThan(150);
  });
});

describe('a guarded place', () => {
  const place = { x: 40, y: 30, width: 60, height: 50 };

  it('has not moved until something moves its colours, and none is there until one is set', async () => {
    const scene = opened({ do: 'saturation', amount: 0.1 });
    expect(await scene.guarded()).toBeNull();
    await scene.guard(place);
    expect(await scene.guarded()).toMatchObject({ hue: 0, lightness: 0, chroma: 0 });
    scene.set(cloth({ do: 'saturation', amount: -0.8 }), stacks);
    expect((await scene.guarded())?.chroma).toBeGreaterThan(0.9);
    await scene.guard(null);
    expect(await scene.guarded()).toBeNull();
  });
});

describe('the colours of a place', () => {
  it('are those of its hue, and follow a turn', async () => {
    const hueOf = async (scene: RecipeWorker) => {
      const { hues, count } = await scene.colours('cloth', whole);
      expect(count).toBeGreaterThan(0);
      return hues.reduce((top, { share }, i) => (share > hues[top].share ? i : top), 0) * 5;
    };
    const before = await hueOf(opened({ do: 'hue-bands', bands: [{ centre: 0, width: 360, soft: 0 }] }));
    const after = await hueOf(opened({ do: 'hue-bands', bands: [{ centre: 0, width: 360, soft: 0, turn: 60 }] }));
    expect(Math.abs(after - before - 60)).toBeLessThanOrEqual(10);
  });
});
