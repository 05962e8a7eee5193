import { beforeEach, describe, expect, it } from 'vitest';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { STEP_SPECS } from '@owl-loom/recipe/steps/index';
import { recipeOpened } from '../../store/draft';
import { store } from '../../store/store';
import { editorProps, withParams } from '../fields/step-editor';
import { EDITORS } from './index';

const recipeWith = (step: Step): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  strands: [{ id: 'Ha', from: { stack: 'Ha' }, steps: [step] }],
});
const path = 'strands[0].steps[0]';

it('every step kind has an editor, and no other has', () =>
  expect(Object.keys(EDITORS).sort()).toEqual([...STEP_SPECS.keys()].sort()));

describe('the parameters of a step', () => {
  const stepNow = (): Step => {
    const step = store.getState().draft.recipe?.strands[0].steps?.[0];
    if (!step) throw new Error('no step');
    return step;
  };
  const propsOf = (step: Step) => {
    const props = editorProps(path, step, recipeWith(step));
    if (!props) throw new Error('no props');
    return props;
  };
  beforeEach(() => {
    store.dispatch(
      recipeOpened({ recipe: recipeWith({ do: 'gradient', name: 'glow', opacity: 0.5 }), revision: 1, id: '1' }),
    );
  });

  it('come with their defaults, whatever else every step may say', () => {
    const { params } = propsOf({ do: 'gradient', name: 'glow', off: true, opacity: 0.5, hold: {} });
    expect(params).toEqual({ model: 'spline', degree: 2, smoothing: 1, samples: 'auto', by: 'subtract' });
  });

  it('that cannot be read give no editor', () => {
    expect(editorProps(path, { do: 'gradient', degree: 9 }, recipeWith({ do: 'gradient' }))).toBeUndefined();
    expect(editorProps(path, { do: 'no-such-step' }, recipeWith({ do: 'no-such-step' }))).toBeUndefined();
  });

  it('leave the recipe where they say what is so anyway, and keep to the limits of the schema', () => {
    const step: Step = { do: 'gradient', name: 'glow', model: 'polynomial', degree: 3 };
    expect(withParams(step, { model: 'spline', degree: undefined })).toEqual({ do: 'gradient', name: 'glow' });
    expect(withParams(step, { degree: 40 })).toEqual({ ...step, degree: 4 });
    expect(withParams({ do: 'split', keep: 'fine' }, { keep: 'fine', radius: 20 })).toEqual({
      do: 'split',
      keep: 'fine',
    });
  });

  it('are set in the recipe', () => {
    const { set, setAll } = propsOf(stepNow());
    set('degree', 3);
    expect(stepNow()).toEqual({ do: 'gradient', name: 'glow', opacity: 0.5, degree: 3 });
    setAll({ model: 'polynomial', smoothing: 1 });
    expect(stepNow()).toMatchObject({ model: 'polynomial' });
    expect(stepNow()).not.toHaveProperty('smoothing');
  });
});
