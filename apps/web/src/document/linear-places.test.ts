import { describe, expect, it } from 'vitest';
import { stepAt } from '@owl-loom/recipe/names';
import type { Recipe } from '@owl-loom/recipe/schema';
import { graphOf, onePixelStack } from '@owl-loom/testing/evaluate-recipe';
import { linearPlaces } from './linear-places';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    {
      id: 'Ha',
      from: { stack: 'Ha' },
      steps: [
        { do: 'align', to: 'OIII' },
        { do: 'linear-fit', to: 'OIII' },
      ],
    },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'gradient' }] },
    { id: 'SII', from: { stack: 'SII' }, steps: [] },
    { id: 'glow', from: { strand: 'SII' }, steps: [{ do: 'stretch' }] },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } } },
        steps: [{ do: 'blur', radius: 1 }, { do: 'stretch' }, { do: 'gradient', degree: 1 }],
      },
      { id: 'veil', of: { strand: 'glow' }, steps: [{ do: 'tint', colour: '#ff8800' }], blend: 'screen' },
    ],
    steps: [{ do: 'gradient', opacity: 0.5 }],
  },
};

const stacks = { Ha: onePixelStack(1), OIII: onePixelStack(2), SII: onePixelStack(3) };
const misplaced = (body: Recipe) =>
  graphOf(body, stacks).warnings.filter(({ message }) => /needs linear/.test(message));

describe('a step for linear data that stands after a stretch', () => {
  it.each([
    ['cloth.layers[0].steps[2]', ['Move before the stretch'], 'cloth.layers[0].steps[1]'],
    [
      'cloth.steps[0]',
      ['Move before the stretch of base', 'Move before the stretch of glow', 'Move to each strand: Ha, SII'],
      'cloth.layers[0].steps[1]',
    ],
  ])('%s finds linear data at each place that is offered', (path, labels, first) => {
    const before = misplaced(recipe);
    const places = linearPlaces(recipe, path);
    expect(places.map(({ label }) => label)).toEqual(labels);
    expect(places[0].chosen).toBe(first);
    for (const { recipe: moved } of places) {
      expect(graphOf(moved, stacks).faults).toEqual([]);
      expect(misplaced(moved)).toHaveLength(before.length - 1);
    }
    for (const { label, recipe: moved, chosen } of places)
      if (label.startsWith('Move before')) expect(stepAt(moved, chosen)).toEqual(stepAt(recipe, path));
  });

  it('comes behind what moves a strand and before what is measured on it, and only where there is none', () => {
    const { recipe: each } = linearPlaces(recipe, 'cloth.steps[0]').at(-1) ?? { recipe };
    expect(each.strands.map(({ steps = [] }) => steps.map((step) => step.do))).toEqual([
      ['align', 'gradient', 'linear-fit'],
      ['gradient'],
      ['gradient'],
      ['stretch'],
    ]);
    expect(each.cloth?.steps).toEqual([]);
  });
});
