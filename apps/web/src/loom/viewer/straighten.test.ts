import { beforeEach, describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { recipeOpened } from '../../store/draft';
import { store } from '../../store/store';
import { degreesPath, straighten } from './straighten';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'place', degrees: 10 }, { do: 'gradient' }] }],
  cloth: { layers: [{ id: 'l', of: { strand: 'A' } }] },
};
const spot = (sx: number, sy: number) => ({ x: 0, y: 0, sx, sy });
const now = (): Recipe | null => store.getState().draft.recipe;

beforeEach(() => {
  store.dispatch(recipeOpened({ id: 'r', recipe, revision: 1 }));
});

describe('levelling by a line', () => {
  it('turns a place step, or the cloth, against the line as it is seen on the screen', () => {
    // Falling to the right by five degrees on the screen, whose rows run down.
    const end = spot(100 + 100 * Math.cos(0.0872665), 50 + 100 * Math.sin(0.0872665));
    straighten(recipe, 'strands[0].steps[0]', spot(100, 50), end);
    expect(now()?.strands[0].steps?.[0].degrees).toBeCloseTo(15, 3);
    straighten(recipe, 'cloth', spot(100, 50), end);
    expect(now()?.cloth?.orient?.degrees).toBeCloseTo(5, 3);
  });

  it('leaves every other bead alone, and takes a click for no line', () => {
    expect(degreesPath(recipe, 'strands[0].steps[1]')).toBeUndefined();
    expect(degreesPath(recipe, 'strands[0]')).toBeUndefined();
    straighten(recipe, 'strands[0].steps[1]', spot(0, 0), spot(100, 30));
    straighten(recipe, 'cloth', spot(0, 0), spot(5, 3));
    expect(now()).toEqual(recipe);
  });
});
