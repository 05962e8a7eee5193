import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { StackInfo } from '@owl-loom/engine/graph';
import { parseRecipe } from '@owl-loom/recipe/parse';
import { stepOwners } from '@owl-loom/recipe/walk';
import { DEMO_RECIPES } from './recipes';
import { DEMO_SWATCHES } from './swatches';

const wcs = { ra: 10, dec: 20, x: 900, y: 600, plane: { xx: -1e-4, xy: 0, tx: 0, yx: 0, yy: 1e-4, ty: 0 } };

/** Stacks as they come from the demo's files. */
function stacksOf(folder: string): Map<string, StackInfo> {
  const names = folder.endsWith('in-colour') ? ['Ha+OIII'] : ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'];
  const planes = folder.endsWith('in-colour') ? 3 : 1;
  return new Map(names.map((id) => [id, { id, width: 1800, height: 1200, planes, domain: 'linear', wcs }]));
}

const all = Object.entries(DEMO_RECIPES).flatMap(([folder, recipes]) =>
  recipes.map((recipe) => [recipe.name ?? '', folder, recipe] as const),
);
const kept = Object.entries(DEMO_SWATCHES).flatMap(([folder, swatches]) =>
  swatches.map(({ name, body }) => [`the swatch ${name}`, folder, body] as const),
);

describe('the demo’s recipes', () => {
  it.each([...all, ...kept])('%s weaves without a fault or a warning', (_, folder, recipe) => {
    const graph = buildGraph(parseRecipe(recipe), stacksOf(folder));
    expect(graph.faults).toEqual([]);
    expect(graph.warnings).toEqual([]);
    expect(graph.nodes[graph.cloth ?? -1].domain).toBe('stretched');
  });

  it('show what the weave can do: a small cloth, a painted mask, a mask of a layer’s own image, the cloth laid on itself', () => {
    const owners = all.flatMap(([, , recipe]) => [...stepOwners(recipe)]);
    const text = JSON.stringify(all);
    expect(owners.some(({ source }) => source && 'layers' in source)).toBe(true);
    expect(owners.some(({ source }) => source && 'below' in source)).toBe(true);
    expect(text).toContain('"paint":[{');
    expect(text).toContain('"invert":true');
  });
});
