import { describe, expect, it } from 'vitest';
import type { Layer } from '@owl-loom/recipe/schema';
import { stepOwnerAt, strandDependents, strandsInUse } from '@owl-loom/recipe/walk';
import { graphOf, onePixelStack, recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';

const stacks = { A: onePixelStack(0.2), B: onePixelStack(0.5), C: onePixelStack(0.9) };
const pair: Layer[] = [
  { id: 'under', of: { strand: 'A' } },
  { id: 'over', of: { strand: 'B' }, blend: 'add', opacity: 0.5 },
];

describe('a strand made of layers', () => {
  const recipe = recipeOf([strand('A'), strand('B'), { id: 'pair', from: { layers: pair } }], {
    layers: [{ of: { strand: 'pair' }, steps: [{ do: 'scale', multiply: 2 }] }],
  });

  it('is what they come to, and goes into the cloth as any other', () => {
    expect(evaluateRecipe(recipe, stacks, 'strands[2]').raster.planes[0][0]).toBeCloseTo(0.45, 6);
    expect(evaluateRecipe(recipe, stacks).raster.planes[0][0]).toBeCloseTo(0.9, 6);
    expect(evaluateRecipe(recipe, stacks, 'strands[2].from.layers[0]').raster.planes[0][0]).toBeCloseTo(0.2, 6);
    expect(evaluateRecipe(recipe, stacks, 'strands[2].from.layers[1]@cloth').raster.planes[0][0]).toBeCloseTo(0.45, 6);
  });

  it('is found by who reads a strand, and by its place', () => {
    expect(strandDependents(recipe, 'B').map(({ path }) => path)).toEqual(['strands[2].from.layers[1]']);
    expect(stepOwnerAt(recipe, 'strands[2].from.layers[1].opacity')?.id).toBe('over');
    expect([...strandsInUse(recipe)].sort()).toEqual(['A', 'B', 'pair']);
  });

  it('may give the frame', () => {
    expect(graphOf({ ...recipe, frame: 'pair' }, stacks).frameStack).toBe('A');
  });

  it('that comes back to itself is refused with those in the loop', () => {
    const bad = recipeOf([
      strand('A'),
      { id: 'X', from: { layers: [{ of: { strand: 'Y' } }] } },
      { id: 'Y', from: { strand: 'X' } },
    ]);
    expect(graphOf(bad, stacks).faults[0].message).toMatch(/X → Y → X/);
  });

  it('has nothing below its lowest layer', () => {
    const bad = recipeOf([strand('A'), { id: 'X', from: { layers: [{ of: { below: true } }] } }]);
    expect(graphOf(bad, stacks).faults[0].path).toBe('strands[1].from.layers[0].of.below');
  });
});

it('a cloth in a cloth in a cloth, ten deep, is what the innermost gives', () => {
  const deep = Array.from({ length: 10 }).reduce<Layer>(
    (inner) => ({ of: { layers: [inner, { of: { strand: 'B' }, opacity: 0 }] }, opacity: 1 }),
    { of: { strand: 'A' } },
  );
  const recipe = recipeOf([strand('A'), strand('B')], { layers: [deep] });
  expect(evaluateRecipe(recipe, stacks).raster.planes[0][0]).toBeCloseTo(0.2, 6);
  const innermost = `cloth.layers[0]${'.of.layers[0]'.repeat(10)}`;
  expect(evaluateRecipe(recipe, stacks, innermost).raster.planes[0][0]).toBeCloseTo(0.2, 6);
  expect(stepOwnerAt(recipe, `${innermost}.of.strand`)?.path).toBe(innermost);
});
