import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Recipe } from './schema';
import { parsePath, stepLocation, stepsAt, valueAt, withStep, withStepMoved, setAtPath, withoutStep } from './paths';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    {
      id: 'Ha',
      from: { stack: 'Ha' },
      steps: [{ do: 'scale', multiply: 2 }, { do: 'stretch' }, { do: 'levels', mid: 0.4 }],
    },
    { id: 'OIII', from: { stack: 'OIII' } },
  ],
  cloth: { layers: [{ id: 'base', of: { strand: 'Ha' } }] },
};
const list = 'strands[0].steps';
const kinds = (of: Recipe, where = list) => stepsAt(of, where).map((step) => step.do);

describe('paths', () => {
  it('are taken apart into keys', () => {
    expect(parsePath('cloth.layers[1].steps[0].mid')).toEqual(['cloth', 'layers', 1, 'steps', 0, 'mid']);
    expect(stepLocation('cloth.layers[1].steps[12]')).toEqual({ list: 'cloth.layers[1].steps', index: 12 });
    expect(stepLocation('cloth.layers[1]')).toBeUndefined();
  });

  it('find what stands there, and nothing where nothing does', () => {
    expect(valueAt(recipe, 'strands[0].steps[2].mid')).toBe(0.4);
    expect(valueAt(recipe, 'strands[7].steps[2].mid')).toBeUndefined();
    expect(valueAt(recipe, 'strands[0].id.length.x')).toBeUndefined();
  });

  it('set one value, make what is missing, remove by undefined, and touch nothing else', () => {
    const next = setAtPath(recipe, 'cloth.orient.turn', 90);
    expect(valueAt(next, 'cloth.orient.turn')).toBe(90);
    expect(next.strands).toBe(recipe.strands);
    expect(recipe.cloth?.orient).toBeUndefined();
    expect(
      'mid' in (valueAt(setAtPath(recipe, 'strands[0].steps[2].mid', undefined), 'strands[0].steps[2]') as object),
    ).toBe(false);
  });

  it('give back what they set', () => {
    const places = fc.constantFrom(
      'name',
      'sky.x',
      'strands[0].steps[1].target',
      'strands[1].from.stack',
      'cloth.layers[0].opacity',
      'cloth.extent',
    );
    fc.assert(
      fc.property(places, fc.oneof(fc.double({ noNaN: true }), fc.string(), fc.boolean()), (path, value) => {
        expect(valueAt(setAtPath(recipe, path, value), path)).toEqual(value);
      }),
    );
  });
});

describe('steps', () => {
  it('go in, out, and into lists that are not there yet', () => {
    expect(kinds(withStep(recipe, list, 1, { do: 'crop' }))).toEqual(['scale', 'crop', 'stretch', 'levels']);
    expect(kinds(withoutStep(recipe, list, 1))).toEqual(['scale', 'levels']);
    expect(kinds(withStep(recipe, 'cloth.steps', 0, { do: 'levels' }), 'cloth.steps')).toEqual(['levels']);
  });

  it('put in and taken out again leave the recipe as it was', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3 }), (at) => {
        expect(withoutStep(withStep(recipe, list, at, { do: 'tint' }), list, at)).toEqual(recipe);
      }),
    );
  });

  it('move along their list and to another, and none is lost', () => {
    expect(kinds(withStepMoved(recipe, { list, index: 0 }, { list, index: 3 }))).toEqual([
      'stretch',
      'levels',
      'scale',
    ]);
    expect(kinds(withStepMoved(recipe, { list, index: 2 }, { list, index: 0 }))).toEqual([
      'levels',
      'scale',
      'stretch',
    ]);
    const away = withStepMoved(recipe, { list, index: 1 }, { list: 'strands[1].steps', index: 0 });
    expect([kinds(away), kinds(away, 'strands[1].steps')]).toEqual([['scale', 'levels'], ['stretch']]);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2 }), fc.integer({ min: 0, max: 3 }), (from, to) => {
        expect(kinds(withStepMoved(recipe, { list, index: from }, { list, index: to })).sort()).toEqual([
          'levels',
          'scale',
          'stretch',
        ]);
      }),
    );
  });
});
