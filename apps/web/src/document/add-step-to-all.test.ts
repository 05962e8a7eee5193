import { describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { strandsWithoutStep, withStepForAll } from './add-step-to-all';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'gradient' }] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'gradient' }, { do: 'stretch' }] },
    { id: 'SII', from: { stack: 'SII' }, steps: [{ do: 'linear-fit', to: 'OIII' }] },
    { id: 'R', from: { stack: 'R' } },
    { id: 'both', from: { average: ['Ha', 'OIII'] } },
  ],
};
const kinds = (of: Recipe) => of.strands.map((strand) => (strand.steps ?? []).map((step) => step.do).join(' '));

describe('a step for the whole set', () => {
  it('goes to every strand from a stack that lacks it, before any stretch', () => {
    expect(strandsWithoutStep(recipe, { do: 'linear-fit', to: 'Ha' })).toBe(2);
    expect(kinds(withStepForAll(recipe, { do: 'linear-fit', to: 'Ha' }))).toEqual([
      'gradient',
      'gradient linear-fit stretch',
      'linear-fit',
      'linear-fit',
      '',
    ]);
  });

  it('goes first where it moves the pixels, and a second time changes nothing', () => {
    const aligned = withStepForAll(recipe, { do: 'align', to: 'Ha' });
    expect(kinds(aligned)).toEqual(['gradient', 'align gradient stretch', 'align linear-fit', 'align', '']);
    expect(strandsWithoutStep(aligned, { do: 'align', to: 'Ha' })).toBe(0);
    expect(withStepForAll(aligned, { do: 'align', to: 'Ha' })).toBe(aligned);
  });
});
