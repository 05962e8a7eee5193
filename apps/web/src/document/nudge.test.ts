import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { selectionChanged, recipeOpened } from '../store/draft';
import { valueAt } from '@owl-loom/recipe/paths';
import { store } from '../store/store';
import { nudge, nudged } from './nudge';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'align', to: 'Ha' }, { do: 'gradient' }] },
  ],
  cloth: {
    layers: [
      { id: 'base', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] },
      { id: 'glow', of: { strand: 'OIII' }, steps: [{ do: 'place', turn: 90 }, { do: 'stretch' }], blend: 'screen' },
    ],
    steps: [{ do: 'levels' }],
  },
};

const draft = () => store.getState().draft;
const at = (path: string) => valueAt(draft().recipe ?? recipe, path) as Step;

beforeEach(() => void store.dispatch(recipeOpened({ id: 'a', recipe, revision: 1 })));

describe('a layer or a strand moved by hand', () => {
  it('gets a step for that where its pixels are still to be looked at, after what moves it already', () => {
    expect(nudged(recipe, 'strands[1]', 1, 0)?.path).toBe('strands[1].steps[1]');
    expect(nudged(recipe, 'strands[0]', 1, 0)?.path).toBe('strands[0].steps[0]');
    expect(nudged(recipe, 'cloth.layers[0].steps[0]', 1, 0)?.path).toBe('cloth.layers[0].steps[0]');
    expect(nudged(recipe, 'cloth.layers[1]', 1, 0)).toMatchObject({ path: 'cloth.layers[1].steps[0]', added: false });
    expect(nudged(recipe, 'cloth', 1, 0)).toBeUndefined();
    expect(nudged(recipe, 'cloth.steps[0]', 1, 0)).toBeUndefined();
  });

  it('lies where all presses together have moved it, in whichever order they came', () => {
    const by = fc.integer({ min: -300, max: 300 }).map((n) => n / 100);
    fc.assert(
      fc.property(fc.array(fc.tuple(by, by), { minLength: 1 }), (moves) => {
        const end = moves.reduce((now, [dx, dy]) => nudged(now, 'cloth.layers[0]', dx, dy)?.recipe ?? now, recipe);
        const step = valueAt(end, 'cloth.layers[0].steps[0]') as Step;
        expect(step.do).toBe('place');
        expect(step.dx).toBeCloseTo(
          moves.reduce((sum, [dx]) => sum + dx, 0),
          6,
        );
        expect(step.dy).toBeCloseTo(
          moves.reduce((sum, [, dy]) => sum + dy, 0),
          6,
        );
      }),
    );
  });

  it('keeps what else its step does, stays chosen, and is one change in the history', () => {
    store.dispatch(selectionChanged('cloth.layers[1].steps[1]'));
    for (let i = 0; i < 3; i++) nudge(1, 0);
    nudge(0, -10);
    expect(at('cloth.layers[1].steps[0]')).toEqual({ do: 'place', turn: 90, dx: 3, dy: -10 });
    expect(draft().selectedPath).toBe('cloth.layers[1].steps[1]');
    expect(draft().past).toEqual([recipe]);
    // A step that comes in front of the chosen one leaves that chosen.
    store.dispatch(selectionChanged('cloth.layers[0].steps[0]'));
    nudge(2, 0);
    expect(draft().selectedPath).toBe('cloth.layers[0].steps[1]');
    expect(at(draft().selectedPath).do).toBe('stretch');
  });

  it('is taken up on the picture without being moved, once', () => {
    store.dispatch(selectionChanged('cloth.layers[1]'));
    nudge(0, 0, true);
    expect(draft().selectedPath).toBe('cloth.layers[1].steps[0]');
    expect(draft().recipe).toBe(recipe);
    store.dispatch(selectionChanged('cloth.layers[0]'));
    nudge(0, 0, true);
    expect(at(draft().selectedPath).do).toBe('place');
  });
});
