import { beforeEach, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { pathsUsingMask } from '@owl-loom/recipe/walk';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { recipeOpened } from '../store/draft';
import { store } from '../store/store';
import { addMask, removeMask, renameMask, setValue } from '../document/edit';
import { layoutDraft } from '../loom/draft/layout';
import { maskPresets, withoutMask } from './masks';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'A', from: { stack: 'A' }, steps: [{ do: 'scale' }] },
    { id: 'B', from: { stack: 'B' } },
  ],
  cloth: {
    layers: [
      { id: 'one', of: { strand: 'A' } },
      { id: 'two', of: { strand: 'B' }, steps: [{ do: 'stretch' }] },
    ],
  },
};
const now = (): Recipe => store.getState().draft.recipe as Recipe;

describe('masks of the draft', () => {
  beforeEach(() => void store.dispatch(recipeOpened({ id: 'r', revision: 1, recipe })));

  it('are added for who is to be seen through them, which stays chosen; or for themselves', () => {
    store.dispatch({ type: 'draft/chose', payload: 'cloth.layers[1]' });
    addMask('A bright', { of: { strand: 'A' } }, 'cloth.layers[1]');
    expect(now().cloth?.layers[1].mask).toBe('A bright');
    expect(store.getState().draft.selectedPath).toBe('cloth.layers[1]');
    addMask('A bright', { of: { strand: 'A' } });
    expect(now().masks?.map(({ id }) => id)).toEqual(['A bright', 'A bright-2']);
    expect(store.getState().draft.selectedPath).toBe('masks[1]');
    parseRecipe(now());
  });

  it('take what is seen through them along to another name', () => {
    addMask('gas', { of: { strand: 'A' } }, 'cloth.layers[1]');
    setValue('cloth.layers[1].steps[0].mask', 'gas');
    renameMask('gas', 'haze');
    expect(pathsUsingMask(now(), 'haze')).toEqual(['cloth.layers[1]', 'cloth.layers[1].steps[0]']);
    expect(pathsUsingMask(now(), 'gas')).toEqual([]);
    renameMask('haze', '');
    expect(now().masks?.[0].id).toBe('haze');
  });

  it('are gone without a trace once removed', () => {
    addMask('gas', { of: { strand: 'A' } });
    removeMask('gas');
    expect(now()).toEqual(recipe);
  });

  it('hang in the draft below the strands, and on the layers and beads that are seen through them', () => {
    addMask('gas', { of: { strand: 'A' }, steps: [{ do: 'stretch' }] }, 'cloth.layers[1]');
    setValue('strands[0].steps[0].mask', 'gas');
    const layout = layoutDraft(now(), 'cloth', { width: 1280, height: 260 });
    const [mask] = layout.masks;
    expect(mask.y).toBeGreaterThan(layout.threadsEnd);
    expect(layout.height).toBeGreaterThan(mask.y);
    expect(mask.beads).toHaveLength(1);
    const bead = layout.rows[0].beads[0];
    expect(mask.uses).toEqual([
      { path: 'strands[0].steps[0]', x: bead.x + layout.beadWidth / 2, y: bead.y + 12, bead: true },
      { path: 'cloth.layers[1]', x: layout.layersX, y: layout.layers[1].y + 10, bead: false },
    ]);
  });
});

describe('masks by one press', () => {
  const strands = [
    { id: 'A', stretched: false },
    { id: 'B', stretched: true },
  ];

  it('are stretched where what they are made of is linear', () => {
    const byLabel = new Map(maskPresets(strands).map(({ label, mask }) => [label, mask]));
    expect(byLabel.get('Bright parts of A')).toEqual({ of: { strand: 'A' }, steps: [{ do: 'stretch' }] });
    expect(byLabel.get('Bright parts of B')).toEqual({ of: { strand: 'B' } });
    expect(byLabel.get('Stars in B')).toEqual({ of: { starMask: 'B' } });
    expect(byLabel.get('Blank mask')).toEqual({ of: { colour: '#ffffff' } });
  });

  it('show what lies below where something does', () => {
    expect(maskPresets(strands).some(({ mask }) => 'below' in mask.of)).toBe(false);
    expect(maskPresets(strands, { name: 'the cloth below', stretched: true })[0]).toMatchObject({
      label: 'Bright parts of the cloth below',
      mask: { of: { below: true } },
    });
  });
});

describe('a picture without a mask', () => {
  const own = { of: { strand: 'a' } };
  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [{ id: 'a', from: { stack: 'a' }, steps: [{ do: 'blur', radius: 1, mask: 'shared' }, { do: 'invert' }] }],
    masks: [{ id: 'shared', of: { strand: 'a' } }],
    cloth: {
      layers: [
        { id: 'one', of: { strand: 'a' }, mask: 'shared' },
        { id: 'two', of: { strand: 'a' }, mask: own },
      ],
    },
  };

  it('lacks that of the chosen layer or step, and no other', () => {
    expect(withoutMask(recipe, 'cloth.layers[0]').cloth?.layers.map(({ mask }) => mask)).toEqual([undefined, own]);
    expect(withoutMask(recipe, 'cloth.layers[1]').cloth?.layers.map(({ mask }) => mask)).toEqual(['shared', undefined]);
    expect(withoutMask(recipe, 'strands[0].steps[0]').strands[0].steps?.[0]).toEqual({ do: 'blur', radius: 1 });
    expect(withoutMask(recipe, 'cloth.layers[1].mask').cloth?.layers[1].mask).toBeUndefined();
  });

  it('lacks a shared mask wherever it is used, and stays where there is none', () => {
    const bare = withoutMask(recipe, 'masks[0]');
    expect(bare.strands[0].steps?.[0].mask).toBeUndefined();
    expect(bare.cloth?.layers.map(({ mask }) => mask)).toEqual([undefined, own]);
    expect(bare.masks).toEqual(recipe.masks);
    for (const path of ['cloth', 'strands[0]', 'strands[0].steps[1]']) expect(withoutMask(recipe, path)).toBe(recipe);
  });
});
