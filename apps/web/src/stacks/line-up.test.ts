import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { StackInfo } from '@owl-loom/engine/graph';
import { alignmentCheckRecipe } from '@owl-loom/recipe/palettes/prepare';
import { parseRecipe } from '@owl-loom/recipe/parse';
import type { Recipe } from '@owl-loom/recipe/schema';
import { pairRecipe, addAlignSteps } from './line-up';

const stacks = new Map(
  ['L', 'R', 'Ha'].map((id): [string, StackInfo] => [id, { id, width: 60, height: 40, planes: 1, domain: 'linear' }]),
);

describe('two stacks laid on each other', () => {
  it.each([
    ['as they are', { reference: 'L', front: 'R', back: 'Ha', aligned: false }, []],
    ['aligned', { reference: 'L', front: 'R', back: 'Ha', aligned: true }, ['align', 'align']],
    ['one of them the reference', { reference: 'L', front: 'L', back: 'Ha', aligned: true }, ['align']],
    ['with itself', { reference: 'L', front: 'L', back: 'L', aligned: true }, []],
  ] as const)('%s make a sound recipe', (_, pairing, aligns) => {
    const { recipe, paths } = pairRecipe(pairing);
    const graph = buildGraph(parseRecipe(recipe), stacks);
    expect(graph.faults).toEqual([]);
    expect(graph.byPath.has(paths.front) && graph.byPath.has(paths.back)).toBe(true);
    expect(
      recipe.strands
        .flatMap((strand) => strand.steps ?? [])
        .map((step) => step.do)
        .filter((kind) => kind === 'align'),
    ).toEqual(aligns);
  });

  it('how one lies is measured by its alignment', () => {
    const graph = buildGraph(parseRecipe(alignmentCheckRecipe('Ha', 'L')), stacks);
    expect(graph.faults).toEqual([]);
    expect(graph.nodes.flatMap((node) => node.measurements).map((figure) => figure.kind)).toContain('align');
  });
});

describe('mending a recipe', () => {
  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [
      { id: 'lum', from: { stack: 'L' }, steps: [] },
      { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'gradient' }] },
      { id: 'Ha2', from: { stack: 'Ha' }, steps: [{ do: 'place', dx: 3 }] },
      { id: 'R', from: { stack: 'R' } },
    ],
  };

  it('aligns the strands of the stacks that are off, first of all, and leaves the rest as it was', () => {
    const mended = addAlignSteps(recipe, new Map([['Ha', 'stars']]), 'L');
    expect(mended.strands[1].steps).toEqual([{ do: 'align', to: 'lum' }, { do: 'gradient' }]);
    expect(mended.strands.filter((_, i) => i !== 1)).toEqual(recipe.strands.filter((_, i) => i !== 1));
    expect(addAlignSteps(mended, new Map([['Ha', 'stars']]), 'L')).toBe(mended);
  });

  it('aligns by structures where those alone told how a stack lies', () => {
    const [, ha] = addAlignSteps(recipe, new Map([['Ha', 'structures']]), 'L').strands;
    expect(ha.steps?.[0]).toEqual({ do: 'align', to: 'lum', by: 'structures' });
  });

  it('changes nothing where the recipe does not know the reference', () =>
    expect(addAlignSteps(recipe, new Map([['Ha', 'stars']]), 'G')).toBe(recipe));
});
