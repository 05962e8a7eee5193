import { beforeEach, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { selectionChanged, recipeOpened } from '../../store/draft';
import { valueAt } from '@owl-loom/recipe/paths';
import { store } from '../../store/store';
import {
  enterGroup,
  leaveGroup,
  moveSelection,
  navigationRows,
  selectMask,
  selectMaskUser,
} from './keyboard-navigation';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'A', from: { stack: 'A' }, steps: [{ do: 'scale', mask: 'gas' }, { do: 'scale' }] },
    { id: 'B', from: { stack: 'B' } },
  ],
  masks: [{ id: 'gas', of: { strand: 'A' }, steps: [{ do: 'stretch' }] }],
  cloth: {
    layers: [
      { id: 'base', of: { strand: 'A' } },
      { id: 'own', of: { strand: 'B' }, mask: { of: { strand: 'A' }, steps: [{ do: 'invert' }] } },
      {
        id: 'room',
        of: {
          layers: [
            { id: 'x', of: { strand: 'A' } },
            { id: 'y', of: { strand: 'B' } },
          ],
        },
        mask: 'gas',
      },
    ],
    steps: [{ do: 'levels' }],
  },
};

const chosen = () => store.getState().draft.selectedPath;
const from = (path: string) => store.dispatch(selectionChanged(path));
/** Chosen places one after another. */
const walk = (...deeds: (() => void)[]): string[] =>
  deeds.map((deed) => {
    deed();
    return chosen();
  });

beforeEach(() => void store.dispatch(recipeOpened({ id: 'a', recipe, revision: 1 })));

describe('walking through the draft', () => {
  it('reaches everything that stands in it, and every place is there', () => {
    for (const at of ['cloth', 'cloth.layers[2].of.layers[0]', 'cloth.layers[1].mask'])
      for (const path of navigationRows(recipe, at).flat()) expect(valueAt(recipe, path), path).toBeDefined();
    from('strands[0]');
    const seen = new Set([chosen()]);
    for (let row = 0; row < 8; row++) {
      for (let i = 0; i < 3; i++) {
        moveSelection(1, 0);
        seen.add(chosen());
      }
      for (let i = 0; i < 3; i++) moveSelection(-1, 0);
      moveSelection(0, 1);
      seen.add(chosen());
    }
    expect(seen).toEqual(new Set(navigationRows(recipe, 'cloth').flat()));
  });

  it('goes into a shared mask and back to where it came from, else to what is first seen through it', () => {
    from('cloth.layers[2]');
    expect(walk(selectMask, selectMaskUser)).toEqual(['masks[0]', 'cloth.layers[2]']);
    from('strands[0].steps[0]');
    expect(walk(selectMask, () => moveSelection(1, 0), selectMaskUser)).toEqual([
      'masks[0]',
      'masks[0].steps[0]',
      'strands[0].steps[0]',
    ]);
    from('masks[0]');
    expect(walk(selectMaskUser)).toEqual(['strands[0].steps[0]']);
  });

  it('goes into a mask that is written in place, along it, and back', () => {
    from('cloth.layers[1]');
    const own = 'cloth.layers[1].mask';
    expect(walk(selectMask, () => moveSelection(1, 0), selectMaskUser)).toEqual([
      own,
      `${own}.steps[0]`,
      'cloth.layers[1]',
    ]);
    from('strands[1]');
    expect(walk(selectMask, selectMaskUser)).toEqual(['strands[1]', 'strands[1]']);
  });

  it('goes into a small cloth and out of it', () => {
    from('cloth.layers[2]');
    expect(walk(enterGroup, () => moveSelection(0, 1), leaveGroup)).toEqual([
      'cloth.layers[2].of.layers[1]',
      'cloth.layers[2].of.layers[0]',
      'cloth.layers[2]',
    ]);
    expect(walk(leaveGroup)).toEqual(['cloth.layers[2]']);
  });
});
