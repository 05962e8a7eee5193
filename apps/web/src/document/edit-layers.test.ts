import { beforeEach, describe, expect, it } from 'vitest';
import { parseRecipe } from '@owl-loom/recipe/parse';
import type { Layer, Recipe } from '@owl-loom/recipe/schema';
import { layersOfList, stepOwners, layerListOf, layerListParent } from '@owl-loom/recipe/walk';
import { mono, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { recipeOpened, undone } from '../store/draft';
import { store } from '../store/store';
import {
  addLayer,
  duplicateLayer,
  groupWithBelow,
  type LayerKind,
  moveLayer,
  changeLayerSource,
  removeLayer,
  ungroup,
  ungroupBlocker,
} from './edit-layers';
import { layerDrop } from '../loom/draft/Layers';

const SIDE = 24;
const stacks = {
  a: mono(SIDE, SIDE, (x, y) => 0.1 + 0.02 * ((x * 7 + y * 3) % 11)),
  b: mono(SIDE, SIDE, (x, y) => 0.05 + 0.03 * ((x * 5 + y * 11) % 13)),
};
const shown = [{ do: 'stretch', black: 0, white: 1, strength: 5 }];

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'a', from: { stack: 'a' } },
    { id: 'b', from: { stack: 'b' } },
  ],
  cloth: {
    layers: [
      { id: 'one', of: { strand: 'a' }, steps: shown },
      {
        id: 'two',
        of: { layers: [{ id: 'in', of: { strand: 'b' }, steps: shown }] },
        blend: 'screen',
        opacity: 0.7,
        mask: { id: 'hole', of: { strand: 'a' } },
      },
      { id: 'three', of: { strand: 'b' }, steps: [...shown, { do: 'tint', colour: '#ff8800' }], blend: 'overlay' },
    ],
  },
};

const now = (): Recipe => {
  const { recipe: current } = store.getState().draft;
  if (!current) throw new Error('no recipe is open');
  return current;
};
const layers = (): Layer[] => now().cloth?.layers ?? [];
const chosen = () => store.getState().draft.selectedPath;
const pixels = (of: Recipe) => evaluateRecipe(parseRecipe(of), stacks).raster.planes.map((plane) => [...plane]);

beforeEach(() => {
  store.dispatch(recipeOpened({ id: 'r', recipe, revision: 1 }));
});

describe('layers', () => {
  it.each<LayerKind>(['strand', 'mix', 'formula', 'average', 'colour', 'layers', 'below'])(
    'of a new %s lie where they were put, sound and chosen',
    (kind) => {
      addLayer(kind, 'cloth.layers', 1);
      expect(layers()).toHaveLength(4);
      expect(layers()[0].id).toBe('one');
      expect(chosen()).toBe('cloth.layers[1]');
      expect(() => pixels(now())).not.toThrow();
      addLayer(kind === 'below' ? 'strand' : kind, 'cloth.layers[2].of.layers', 0);
      expect(() => pixels(now())).not.toThrow();
    },
  );

  it('are doubled with names of their own, however deep', () => {
    duplicateLayer('cloth.layers[1]');
    expect(layers().map(({ id }) => id)).toEqual(['one', 'two', 'two-2', 'three']);
    expect(chosen()).toBe('cloth.layers[2]');
    const ids = [...stepOwners(now())].flatMap(({ kind, id }) => (id ? [`${kind} ${id}`] : []));
    expect(new Set(ids).size).toBe(ids.length);
    expect(() => pixels(now())).not.toThrow();
  });

  it('move to any place of their room', () => {
    moveLayer('cloth.layers[0]', 2);
    expect(layers().map(({ id }) => id)).toEqual(['two', 'three', 'one']);
    expect(chosen()).toBe('cloth.layers[2]');
    expect(layerDrop('cloth.layers[0]', 'cloth.layers[2]')).toBe(2);
    expect(layerDrop('cloth.layers[0]', 'cloth.layers[1].of.layers[0]')).toBeUndefined();
    expect(layerDrop('cloth.layers[0].steps[0]', 'cloth.layers[1]')).toBeUndefined();
  });

  it('are taken away, but never the last of a small cloth', () => {
    removeLayer('cloth.layers[1].of.layers[0]');
    expect(now()).toEqual(recipe);
    removeLayer('cloth.layers[1]');
    expect(layers().map(({ id }) => id)).toEqual(['one', 'three']);
  });

  it('are named after their strand, and after another one when they are made of that; a name of one’s own stays', () => {
    addLayer('strand', 'cloth.layers', 3);
    // Every strand has a layer of its own already, so that the first is taken.
    expect(layers()[3]).toMatchObject({ id: 'a', of: { strand: 'a' } });
    changeLayerSource('cloth.layers[3]', 'strand', 'b');
    expect(layers()[3]).toMatchObject({ id: 'b', of: { strand: 'b' } });
    changeLayerSource('cloth.layers[0]', 'strand', 'b');
    expect(layers()[0]).toMatchObject({ id: 'one', of: { strand: 'b' } });
    // Now no layer is made of the first alone.
    addLayer('strand', 'cloth.layers', 4);
    expect(layers()[4]).toMatchObject({ id: 'a', of: { strand: 'a' } });
  });

  it('become a small cloth of what they were, and the picture stays', () => {
    const before = pixels(recipe);
    changeLayerSource('cloth.layers[2]', 'layers');
    expect(layers()[2]).toMatchObject({ id: 'three', blend: 'overlay', of: { layers: [{ of: { strand: 'b' } }] } });
    expect(pixels(now())).toEqual(before);
  });
});

describe('small cloths', () => {
  it('put together from plain layers and taken apart again leave the picture as it was', () => {
    const plain: Recipe = {
      ...recipe,
      cloth: { layers: [recipe.cloth?.layers[0], recipe.cloth?.layers[2]] as Layer[] },
    };
    store.dispatch(recipeOpened({ id: 'r', recipe: plain, revision: 1 }));
    groupWithBelow('cloth.layers[1]');
    expect(layers()).toHaveLength(1);
    expect(pixels(now())).toEqual(pixels(plain));
    ungroup('cloth.layers[0]');
    expect(now()).toEqual(plain);
  });

  it('are laid on as the lower layer was, and undone in one', () => {
    groupWithBelow('cloth.layers[2]');
    expect(layers()[1]).toMatchObject({ blend: 'screen', opacity: 0.7, mask: { id: 'hole' } });
    expect(layersOfList(now(), 'cloth.layers[1].of.layers').map(({ id }) => id)).toEqual(['two', 'three']);
    expect(() => pixels(now())).not.toThrow();
    store.dispatch(undone());
    expect(now()).toEqual(recipe);
  });

  it('of one layer give it what they had, and the picture stays', () => {
    expect(ungroupBlocker(layers()[1])).toBeUndefined();
    const before = pixels(recipe);
    ungroup('cloth.layers[1]');
    expect(layers()[1]).toEqual({
      id: 'in',
      of: { strand: 'b' },
      steps: shown,
      blend: 'screen',
      opacity: 0.7,
      mask: { id: 'hole', of: { strand: 'a' } },
    });
    pixels(now()).forEach((plane, p) => {
      plane.forEach((v, i) => expect(v).toBeCloseTo(before[p][i], 6));
    });
  });

  it('stay together, with the reason, where another picture would come of it', () => {
    groupWithBelow('cloth.layers[2]');
    expect(ungroupBlocker(layers()[1])).toMatch(/a mask and an opacity and a blend/);
    const whole = now();
    ungroup('cloth.layers[1]');
    expect(now()).toBe(whole);
    expect(ungroupBlocker({ of: { layers: [{ of: { strand: 'a' } }] }, steps: shown })).toMatch(/steps/);
  });

  it('are rooms: each knows its layers and what it is the inside of', () => {
    expect(layerListOf('cloth.layers[1].of.layers[0].steps[0]')).toBe('cloth.layers[1].of.layers');
    expect(layerListOf('cloth.layers[1].mask')).toBe('cloth.layers');
    expect(layerListOf('strands[0].steps[1]')).toBe('cloth.layers');
    expect(layerListParent(recipe, 'cloth.layers[1].of.layers')?.path).toBe('cloth.layers[1]');
    expect(layerListParent(recipe, 'cloth.layers')).toBeUndefined();
    expect(layersOfList(recipe, 'cloth.layers').map(({ id }) => id)).toEqual(['one', 'two', 'three']);
  });
});
