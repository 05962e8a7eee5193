import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import {
  type DraftState,
  recipeChanged,
  selectionChanged,
  draftSlice,
  gestureEnded,
  recipeOpened,
  redone,
  saveFailed,
  saved,
  saving,
  undone,
} from './draft';
import { withStep, setAtPath, withoutStep } from '@owl-loom/recipe/paths';

const { reducer } = draftSlice;
const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'zero',
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'stretch' }] }],
  cloth: { layers: [{ id: 'base', of: { strand: 'Ha' } }] },
};
const open = (): DraftState => reducer(undefined, recipeOpened({ id: 'r', recipe, revision: 3 }));
const named = (state: DraftState, name: string, gesture?: string): DraftState =>
  reducer(state, recipeChanged({ recipe: setAtPath(state.recipe ?? recipe, 'name', name), gesture }));

describe('the open recipe', () => {
  it('undo takes back each change, redo brings it back, a new change ends what lay ahead', () => {
    let state = ['one', 'two', 'three'].reduce((s, name) => named(s, name), open());
    state = reducer(reducer(state, undone()), undone());
    expect(state.recipe?.name).toBe('one');
    state = reducer(state, redone());
    expect(state.recipe?.name).toBe('two');
    state = named(state, 'four');
    expect(reducer(state, redone()).recipe?.name).toBe('four');
    expect(reducer(state, undone()).recipe?.name).toBe('two');
  });

  it('as many undos as changes lead back to the beginning, as many redos to the end', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ minLength: 1 }), { minLength: 1, maxLength: 20 }), (names) => {
        const end = names.reduce((s, name) => named(s, name), open());
        const back = names.reduce((s) => reducer(s, undone()), end);
        expect(back.recipe).toEqual(recipe);
        expect(names.reduce((s) => reducer(s, redone()), back).recipe).toEqual(end.recipe);
      }),
    );
  });

  it('one gesture is one step of the history, the next gesture another', () => {
    let state = ['a', 'b', 'c'].reduce((s, name) => named(s, name, 'slide'), open());
    expect(state.past).toHaveLength(1);
    state = named(reducer(state, gestureEnded()), 'd', 'slide');
    expect(state.past).toHaveLength(2);
    expect(reducer(state, undone()).recipe?.name).toBe('c');
    expect(reducer(reducer(state, undone()), undone()).recipe?.name).toBe('zero');
  });

  it('the chosen bead falls back to what holds it when it goes', () => {
    const there = reducer(open(), selectionChanged('strands[0].steps[0]'));
    const without = reducer(there, recipeChanged({ recipe: withoutStep(recipe, 'strands[0].steps', 0) }));
    expect(without.selectedPath).toBe('strands[0]');
    expect(
      reducer(
        reducer(open(), selectionChanged('cloth.layers[0]')),
        recipeChanged({ recipe: { ...recipe, cloth: { layers: [] } } }),
      ).selectedPath,
    ).toBe('cloth');
    const added = reducer(
      open(),
      recipeChanged({ recipe: withStep(recipe, 'cloth.steps', 0, { do: 'levels' }), chosen: 'cloth.steps[0]' }),
    );
    expect(added.selectedPath).toBe('cloth.steps[0]');
    expect(reducer(added, undone()).selectedPath).toBe('cloth');
  });

  it('is kept when the newest state is saved, and saved again when it has changed meanwhile', () => {
    const edited = reducer(named(open(), 'one'), saving());
    const sent = edited.recipe;
    if (!sent) throw new Error('no recipe');
    expect(reducer(edited, saved({ recipe: sent, revision: 4 }))).toMatchObject({ save: 'kept', revision: 4 });
    expect(reducer(named(edited, 'two'), saved({ recipe: sent, revision: 4 }))).toMatchObject({
      save: 'changed',
      revision: 4,
    });
  });

  it('stays on the page while the server is away, and a conflict is not edited away', () => {
    const away = reducer(named(open(), 'one'), saveFailed({ save: 'away', trouble: 'gone' }));
    expect(away).toMatchObject({ save: 'away', trouble: 'gone', revision: 3 });
    const torn = reducer(away, saveFailed({ save: 'conflict', trouble: 'both' }));
    expect(named(torn, 'two').save).toBe('conflict');
  });
});
