import { beforeEach, describe, expect, it } from 'vitest';
import { parseKeybinding } from 'tinykeys';
import type { Recipe } from '@owl-loom/recipe/schema';
import { selectionChanged, recipeOpened } from '../store/draft';
import { store } from '../store/store';
import { KEYS } from './keys';

const presses = KEYS.flatMap(({ deeds = {} }) => Object.keys(deeds));
const none = { stage: () => null, showList: () => undefined, keepSwatch: () => undefined };

/** Does what a key does. */
const press = (name: string): void => {
  const deed = KEYS.map(({ deeds = {} }) => deeds[name]).find(Boolean);
  if (!deed) throw new Error(`no key ${name}`);
  deed(none);
};

describe('the keys of the Loom', () => {
  it('are each bound once, and can be read', () => {
    expect(new Set(presses).size).toBe(presses.length);
    for (const name of presses) expect(parseKeybinding(name)).toHaveLength(1);
    expect(KEYS.every(({ keys, does }) => keys !== '' && does !== '')).toBe(true);
  });

  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [
      { id: 'A', from: { stack: 'A' }, steps: [{ do: 'gradient' }, { do: 'scale' }] },
      { id: 'B', from: { stack: 'B' } },
    ],
    cloth: {
      layers: [
        { id: 'low', of: { strand: 'A' } },
        { id: 'top', of: { strand: 'B' } },
      ],
      steps: [{ do: 'levels' }],
    },
  };
  const chosen = () => store.getState().draft.selectedPath;
  beforeEach(() => {
    store.dispatch(recipeOpened({ id: 'r', recipe, revision: 1 }));
  });

  it('lead over the whole drawing, and not out of it', () => {
    store.dispatch(selectionChanged('strands[0]'));
    const way = [
      'ArrowRight',
      'ArrowRight',
      'ArrowRight',
      'ArrowDown',
      'ArrowDown',
      'ArrowDown',
      'ArrowDown',
      'ArrowRight',
      'ArrowUp',
      'ArrowLeft',
    ];
    const seen = way.map((name) => {
      press(name);
      return chosen();
    });
    expect(seen).toEqual([
      'strands[0].steps[0]',
      'strands[0].steps[1]',
      'strands[0].steps[1]',
      'strands[1]',
      'cloth.layers[1]',
      'cloth.layers[0]',
      'cloth',
      'cloth.steps[0]',
      'cloth.layers[0]',
      'cloth.layers[0]',
    ]);
  });

  it('switch and remove the chosen step, and nothing where none is chosen', () => {
    const steps = () => store.getState().draft.recipe?.strands[0].steps;
    store.dispatch(selectionChanged('strands[0]'));
    press('x');
    press('Delete');
    expect(store.getState().draft.recipe).toBe(recipe);
    store.dispatch(selectionChanged('strands[0].steps[1]'));
    press('x');
    expect(steps()?.[1]).toEqual({ do: 'scale', off: true });
    press('Delete');
    expect(steps()).toEqual([{ do: 'gradient' }]);
    press('$mod+z');
    press('$mod+z');
    expect(steps()).toEqual(recipe.strands[0].steps);
    press('$mod+y');
    expect(steps()?.[1]).toEqual({ do: 'scale', off: true });
  });
});
