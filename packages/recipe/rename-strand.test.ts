import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { graphOf, onePixelStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import type { Recipe } from './schema';
import { withStrandRenamed } from './rename-strand';
import { strandDependents } from './walk';

const stacks = { Ha: onePixelStack(0.3), OIII: onePixelStack(0.2) };
/** Each way to read a strand, once. */
const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  frame: 'Ha',
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'scale', multiply: 2 }] },
    {
      id: 'OIII',
      from: { stack: 'OIII' },
      steps: [{ do: 'linear-fit', to: 'Ha', name: 'Ha', hold: { a: 0.1, b: 2 } }],
    },
    { id: 'both', from: { average: ['Ha', 'OIII'] }, steps: [] },
    { id: 'sum', from: { formula: 'k = 0.5 # of Ha\nHa + k * "Ha" -\n  sky(OIII)' }, steps: [] },
    { id: 'own', from: { formula: 'Ha = Ha + 1\nHa * 2' }, steps: [] },
    {
      id: 'deep',
      from: { layers: [{ of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { Ha: 2 } }, gain: { Ha: 1.5 } } }] },
      steps: [{ do: 'levels', mask: { of: { strand: 'Ha' }, steps: [] } }],
    },
  ],
  masks: [{ id: 'Ha', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }],
  cloth: {
    layers: [
      {
        id: 'Ha',
        of: { mix: { red: { Ha: 1 }, green: { sum: 1 }, blue: { own: 1 } }, off: { strands: ['Ha'] } },
        mask: 'Ha',
        steps: [{ do: 'stretch' }],
      },
      { of: { strand: 'deep' }, steps: [{ do: 'stretch' }], opacity: 0.5 },
    ],
    steps: [{ do: 'saturation', amount: 0.2, mask: 'Ha' }],
  },
};

describe('a strand called by another name', () => {
  it.each(['H alpha', 'red', 'sky', 'Hα', 'a "b"', '1.5'])('%s is woven as before', (name) => {
    const renamed = withStrandRenamed(recipe, 'Ha', name);
    const id = renamed.strands[0].id;
    expect(renamed.frame).toBe(id);
    expect(graphOf(renamed, stacks).faults).toEqual([]);
    expect(strandDependents(renamed, id).map(({ path }) => path)).toEqual(
      strandDependents(recipe, 'Ha').map(({ path }) => path),
    );
    expect(evaluateRecipe(renamed, stacks).raster.planes).toEqual(evaluateRecipe(recipe, stacks).raster.planes);
  });

  it('leaves alone whatever else is called so: masks, layers, stacks, names that a person or a formula gave', () => {
    const { strands, masks, cloth } = withStrandRenamed(recipe, 'Ha', 'hydrogen');
    expect(strands[0].from).toEqual({ stack: 'Ha' });
    expect(strands[1].steps?.[0]).toMatchObject({ to: 'hydrogen', name: 'Ha' });
    expect(strands[3].from).toEqual({ formula: 'k = 0.5 # of Ha\nhydrogen + k * hydrogen -\n  sky(OIII)' });
    expect(strands[4].from).toEqual({ formula: 'Ha = hydrogen + 1\nHa * 2' });
    expect(masks?.[0].id).toBe('Ha');
    expect(cloth?.layers[0]).toMatchObject({ id: 'Ha', mask: 'Ha', of: { off: { strands: ['hydrogen'] } } });
  });

  it('takes no name that a formula gives a value of its own, nor that of another strand', () => {
    expect(withStrandRenamed(recipe, 'Ha', 'k').strands[0].id).toBe('k-2');
    expect(withStrandRenamed(recipe, 'Ha', 'OIII').strands[0].id).toBe('OIII-2');
  });

  it('and then by its own again is the recipe as it was, but for quotation marks that are not needed', () => {
    const plain = withStrandRenamed(recipe, 'Ha', 'Ha');
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme-ascii' }), (name) => {
        const there = withStrandRenamed(recipe, 'Ha', name);
        expect(withStrandRenamed(there, there.strands[0].id, 'Ha')).toEqual(plain);
      }),
    );
  });
});
