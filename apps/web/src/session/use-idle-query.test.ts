import { expect, it } from 'vitest';
import { withStepMoved } from '@owl-loom/recipe/paths';
import type { Recipe } from '@owl-loom/recipe/schema';
import { toldOf } from './use-idle-query';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    {
      id: 'Ha',
      from: { stack: 'Ha' },
      steps: [{ do: 'stretch' }, { do: 'blur', radius: 1 }, { do: 'blur', radius: 2 }],
    },
  ],
};
const at = (i: number): string => `strands[0].steps[${i}]`;
const list = 'strands[0].steps';
const described = {
  measured: { [at(0)]: { black: 1 }, [at(1)]: { sigma: 2 }, [at(2)]: { sigma: 3 }, 'strands[0]': { noise: 4 } },
  charts: {},
  hangs: {},
  tones: {},
  stars: {},
  kinds: { [at(0)]: 'stretch', [at(1)]: 'blur', [at(2)]: 'blur' },
};

it('what was measured is told of the step that it was measured for, and of no other that has come to its place', () => {
  expect(toldOf(described, recipe).measured).toEqual(described.measured);
  const moved = withStepMoved(recipe, { list, index: 1 }, { list, index: 0 });
  expect(Object.keys(toldOf(described, moved).measured)).toEqual([at(2), 'strands[0]']);
});
