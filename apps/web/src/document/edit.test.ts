import { beforeEach, describe, expect, it } from 'vitest';
import { parseRecipe } from '@owl-loom/recipe/parse';
import type { Recipe } from '@owl-loom/recipe/schema';
import { strandDependents } from '@owl-loom/recipe/walk';
import { ownerName } from '@owl-loom/recipe/names';
import { recipeOpened, redone, undone } from '../store/draft';
import { store } from '../store/store';
import { previousStatePath, stepInputPath } from './state-paths';
import { addForAll, addStrand, copyStep, removeStep, removeStrand, setValue, shiftStep } from './edit';
import { addLayer, moveLayer, removeLayer } from './edit-layers';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'gradient' }, { do: 'linear-fit', to: 'Ha' }] },
    { id: 'R', from: { stack: 'R' } },
    { id: 'line', from: { formula: 'Ha - 0.2 * R' }, steps: [] },
  ],
  cloth: {
    layers: [
      { id: 'base', of: { mix: { red: { Ha: 1 }, blue: { OIII: 1 } } }, steps: [{ do: 'stretch' }] },
      {
        id: 'glow',
        of: { strand: 'line' },
        steps: [{ do: 'stretch' }, { do: 'tint', colour: '#ffb14a' }],
        blend: 'screen',
      },
    ],
    steps: [{ do: 'levels' }],
  },
};

const now = (): Recipe => {
  const { recipe: current } = store.getState().draft;
  if (!current) throw new Error('no recipe is open');
  return current;
};

beforeEach(() => {
  store.dispatch(recipeOpened({ id: 'r', recipe, revision: 1 }));
});

describe('edits of a recipe', () => {
  it('leave it sound, and are undone and redone one by one', () => {
    const edits: (() => void)[] = [
      () => addStrand('Ha', { stack: 'Ha' }),
      () => addLayer('strand', 'cloth.layers', 2),
      () => moveLayer('cloth.layers[0]', 1),
      () => copyStep({ do: 'gradient' }, 'strands[0].steps', 0),
      () => shiftStep('strands[1].steps[0]', 1),
      () => addForAll({ do: 'gradient' }),
      () => setValue('strands[1].steps[1].degree', 3),
      () => removeStep('strands[1].steps[0]'),
      () => removeLayer('cloth.layers[0]'),
    ];
    const states = [now()];
    for (const edit of edits) {
      edit();
      expect(now()).not.toBe(states[states.length - 1]);
      expect(() => parseRecipe(now())).not.toThrow();
      states.push(now());
    }
    for (const state of states.slice(0, -1).reverse()) {
      store.dispatch(undone());
      expect(now()).toEqual(state);
    }
    for (const state of states.slice(1)) {
      store.dispatch(redone());
      expect(now()).toEqual(state);
    }
  });

  it('of one gesture are one in the history', () => {
    for (const target of [0.1, 0.2, 0.3]) setValue('cloth.layers[0].steps[0].target', target, 'target');
    expect(now().cloth?.layers[0].steps?.[0]).toEqual({ do: 'stretch', target: 0.3 });
    store.dispatch(undone());
    expect(now()).toEqual(recipe);
  });

  it('name a new strand apart from those that are there, and choose it', () => {
    addStrand('Ha', { stack: 'Ha' });
    addStrand('Ha', { stack: 'Ha' });
    expect(
      now()
        .strands.slice(4)
        .map(({ id }) => id),
    ).toEqual(['Ha-2', 'Ha-3']);
    expect(store.getState().draft.selectedPath).toBe('strands[5]');
  });

  it('do not move a step off its thread, nor a layer off the cloth', () => {
    shiftStep('strands[1].steps[0]', -1);
    moveLayer('cloth.layers[1]', 2);
    moveLayer('cloth.layers[0]', -1);
    expect(now()).toEqual(recipe);
  });

  it('give a step to every strand from a stack that lacks one', () => {
    addForAll({ do: 'gradient' });
    expect(now().strands.map((strand) => (strand.steps ?? []).filter((step) => step.do === 'gradient').length)).toEqual(
      [1, 1, 1, 0],
    );
  });

  it('tell who uses a strand before it goes', () => {
    const users = (of: Recipe, id: string) => strandDependents(of, id).map((owner) => ownerName(of, owner));
    expect(users(recipe, 'Ha')).toEqual(['OIII', 'line', 'base']);
    expect(users(recipe, 'line')).toEqual(['glow']);
    expect(users({ ...recipe, cloth: undefined }, 'line')).toEqual([]);
    const finished = { ...recipe, cloth: { layers: [], steps: [{ do: 'linear-fit', to: 'line' }] } };
    expect(users(finished, 'line')).toEqual(['cloth']);
    store.dispatch(recipeOpened({ id: 'r', recipe: { ...recipe, cloth: undefined }, revision: 1 }));
    removeStrand('line');
    expect(now().strands.map(({ id }) => id)).toEqual(['Ha', 'OIII', 'R']);
  });
});

describe('the state before', () => {
  it('of a step is what comes into it', () => {
    expect(stepInputPath(recipe, 'strands[1].steps[1]')).toBe('strands[1].steps[0]');
    expect(stepInputPath(recipe, 'strands[1].steps[0]')).toBe('strands[1].from');
    expect(stepInputPath(recipe, 'cloth.layers[1].steps[0]')).toBe('cloth.layers[1].of');
    expect(stepInputPath(recipe, 'cloth.steps[0]')).toBe('cloth.layers[1]@cloth');
  });

  it('of a strand is its source, of a layer the cloth below, of the cloth itself before its steps', () => {
    expect(previousStatePath(recipe, 'strands[1]')).toBe('strands[1].from');
    expect(previousStatePath(recipe, 'cloth.layers[1]')).toBe('cloth.layers[0]@cloth');
    expect(previousStatePath(recipe, 'cloth')).toBe('cloth.layers[1]@cloth');
    expect(previousStatePath(recipe, 'cloth.layers[0]')).toBeUndefined();
    expect(previousStatePath({ ...recipe, cloth: { layers: recipe.cloth?.layers ?? [] } }, 'cloth')).toBeUndefined();
  });
});
