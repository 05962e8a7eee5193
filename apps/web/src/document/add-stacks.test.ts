import { describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { needsInWords, withNeeds, withStacks } from './add-stacks';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [{ id: 'L', from: { stack: 'L' }, steps: [{ do: 'denoise' }] }],
  cloth: { layers: [{ id: 'base', of: { strand: 'L' } }] },
};
const ground = { reference: 'L', askew: ['Ha'], uneven: ['L', 'Ha'] };

describe('strands added by hand', () => {
  it('come under free names, in the order that was asked for', () => {
    const { recipe: next, ids } = withStacks(recipe, ['Ha', 'L']);
    expect(ids).toEqual(['Ha', 'L-2']);
    expect(next.strands.map(({ id }) => id)).toEqual(['L', 'Ha', 'L-2']);
  });

  it('bring what their stacks need, and leave the others and the cloth alone', () => {
    const { recipe: next, ids } = withStacks(recipe, ['Ha', 'OIII']);
    const prepared = withNeeds(next, ids, ground);
    expect(prepared.strands[0]).toEqual(recipe.strands[0]);
    expect(prepared.strands[1].steps).toEqual([{ do: 'align', to: 'L' }, { do: 'gradient' }]);
    expect(prepared.strands[2].steps).toEqual([]);
    expect(prepared.cloth).toEqual(recipe.cloth);
    expect(needsInWords(next, prepared)).toBe('Added what the stacks need. Ha: align, gradient.');
    expect(needsInWords(next, withNeeds(next, ['OIII'], ground))).toBeUndefined();
  });
});
