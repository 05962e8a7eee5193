import { describe, expect, it } from 'vitest';
import type { Mix, Recipe } from '@owl-loom/recipe/schema';
import { measureBackground } from '@owl-loom/image/stats/background';
import { makeSky, SKIES } from '@owl-loom/testing/skies';
import { recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { type NoiseContributions, propagateNoise, totalNoise, combineContributions } from './noise-propagation';
import { measurementKeyIn } from './measurement-plan';

const [width, height] = [900, 700];
const whole = { x: 0, y: 0, width, height };

/** Another filter's view of a kind of field: the same stars, fainter, with noise of its own. */
function seen(kind: keyof typeof SKIES, by: number, noise: number, seed: number): TestStack {
  const clean = makeSky({ ...SKIES[kind], width, height });
  const grain = makeSky({ width, height, seed, stars: 0, fwhm: 3, noise });
  const plane = clean.plane.map((v, i) => 0.05 + by * (v - 0.05) + (grain.plane[i] - 0.05));
  return { width, height, planes: [plane] };
}

const stacksOf = (kind: keyof typeof SKIES): Record<string, TestStack> => ({
  Ha: seen(kind, 1, 0.0004, 51),
  OIII: seen('twelve stars', 0.4, 0.0009, 52),
  R: seen('Gaussians', 0.7, 0.0006, 53),
});

/** Noise that the account foretells for a mix of one column, strand by strand, as the page does. */
function foretold(recipe: Recipe, stacks: Record<string, TestStack>, weights: Record<string, number>, share: boolean) {
  const total = share ? Object.values(weights).reduce((sum, w) => sum + Math.abs(w), 0) : 1;
  const parts = Object.entries(weights).map(([id, weight]) => {
    const path = `strands[${recipe.strands.findIndex((one) => one.id === id)}]`;
    const { graph, figures, raster } = evaluateRecipe(recipe, stacks, path);
    const known = new Map(figures);
    for (const [index, node] of graph.nodes.entries()) {
      if (!node.stack) continue;
      const planes = stacks[node.stack.name].planes.map((plane) => measureBackground(plane, whole));
      known.set(measurementKeyIn(graph, { kind: 'tone', nodes: [index] }), { kind: 'tone', planes });
    }
    const at = graph.byPath.get(path) ?? -1;
    // The page knows the tone of every strand: it is asked for with the rest.
    known.set(measurementKeyIn(graph, { kind: 'tone', nodes: [at] }), {
      kind: 'tone',
      planes: raster.planes.map((plane) => measureBackground(plane, whole)),
    });
    const hangs = propagateNoise(graph, at, known);
    if (!hangs) throw new Error(`${id} is not known`);
    return { weight: weight / total, hang: hangs[0] as NoiseContributions };
  });
  return totalNoise(combineContributions(parts));
}

const roads: readonly (readonly [string, Recipe['strands'], Record<string, number>, 'share' | 'as-is'])[] = [
  ['two stacks, shared', [], { Ha: 1, OIII: 2 }, 'share'],
  ['three stacks as they are', [], { Ha: 0.7, OIII: 0.2, R: -0.1 }, 'as-is'],
  [
    'a strand fitted to another',
    [strand('X', [{ do: 'linear-fit', to: 'Ha', method: 'levels' }])],
    { X: 1, Ha: 1 },
    'share',
  ],
  [
    'a line without its continuum, and the continuum',
    [strand('X', [{ do: 'continuum', broad: 'R', method: 'manual', k: 0.35 }])],
    { X: 1, R: 1 },
    'share',
  ],
  [
    'a formula of two, and one of the two',
    [{ id: 'X', from: { formula: 'OIII + 0.6 * Ha' } }],
    { X: 1, Ha: 0.5 },
    'as-is',
  ],
  ['an average by signal', [{ id: 'X', from: { average: ['Ha', 'OIII', 'R'], by: 'signal' } }], { X: 1 }, 'share'],
  ['a gradient taken off', [strand('X', [{ do: 'gradient', model: 'polynomial' }])], { X: 1, R: 1 }, 'share'],
  ['a blurred strand', [strand('X', [{ do: 'blur', radius: 2 }])], { X: 1, R: 1 }, 'share'],
  ['a strand drawn to half pixels', [strand('X', [{ do: 'place', dx: 0.5, dy: 0.3 }])], { X: 1 }, 'share'],
];

describe.each(['more gas than stars', 'correlated noise'] as const)('over a field of the kind %s', (kind) => {
  const stacks = stacksOf(kind);
  it.each(roads)(
    '%s: the noise told beforehand is that of the rendered picture, to 3 percent',
    (_, strands, weights, how) => {
      const base = [strand('Ha'), strand('OIII'), strand('R')];
      const own = strands.map((one) => ('stack' in one.from ? { ...one, from: { stack: 'OIII' } } : one));
      const mix: Mix = { mix: { red: weights }, weights: how };
      const recipe = recipeOf([...base, ...own], { layers: [{ id: 'base', of: mix }] });
      const { raster } = evaluateRecipe(recipe, stacks);
      const rendered = measureBackground(raster.planes[0], whole).noise;
      const told = foretold(recipe, stacks, weights, how === 'share');
      expect(told / rendered).toBeGreaterThan(0.97);
      expect(told / rendered).toBeLessThan(1.03);
    },
  );
});
