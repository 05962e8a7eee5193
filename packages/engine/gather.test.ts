import { expect, it } from 'vitest';
import { measureSeeing, matchingBlurSigma } from '@owl-loom/algorithms/continuum/seeing';
import { unpackFields } from './measurements/stars';
import type { Recipe } from '@owl-loom/recipe/schema';
import { gaussian } from '@owl-loom/image/scales/gaussian';
import { detectStarField } from '@owl-loom/algorithms/stars/field';
import { makeSky } from '@owl-loom/testing/skies';
import { mono, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { measurementKeyIn, cheapestPlan } from './measurement-plan';

const SIDE = 320;
const FRAME = { x: 0, y: 0, width: SIDE, height: SIDE };

/** A sky of its own width and noise under a slanting glow. */
function stack(seed: number, fwhm: number, slant: number) {
  const { plane } = makeSky({ width: SIDE, height: SIDE, seed, stars: 260, fwhm, beta: 3, noise: 0.002 });
  return mono(SIDE, SIDE, (x, y) => plane[y * SIDE + x] + 0.1 + (slant * (x - y)) / SIDE);
}

const stacks = { R: stack(4, 3, 0.05), G: stack(4, 2.6, -0.03), B: stack(4, 3.4, 0.02) };
const evened = (id: string) => ({ id, from: { stack: id }, steps: [{ do: 'gradient' }] });

const recipe = (mix: object, weights: 'as-is' | 'share', steps: object[] = [{ do: 'calibrate' }]) =>
  ({
    format: 'owl-loom-recipe',
    version: 1,
    strands: [evened('R'), evened('G'), evened('B'), { id: 'RGB', from: { mix, weights, gain: { R: 2 } }, steps }],
  }) as Recipe;

it.each([
  ['as they are', 'as-is', [2, 0.5, 3]],
  ['by share', 'share', [2, 1, 1]],
] as const)('stars of a mix weighed %s are those of its strands, so many times as bright', (_, weights, by) => {
  const mixed = recipe({ red: { R: 1 }, green: { G: 0.5 }, blue: { B: 3 } }, weights);
  const { graph, figures } = evaluateRecipe(mixed, stacks, 'strands[3]');
  const node = graph.byPath.get('strands[3].from') ?? -1;
  const spec = { kind: 'stars', nodes: [node] } as const;
  expect(cheapestPlan(graph, spec).by).toBe('carrying');
  const figure = figures.get(measurementKeyIn(graph, spec));
  if (!figure) throw new Error('no stars');
  const { raster } = evaluateRecipe(mixed, stacks, 'strands[3].from');
  unpackFields(figure).forEach((field, p) => {
    const own = detectStarField(Object.values(stacks)[p].planes[0], SIDE, SIDE);
    expect(field.stars).toHaveLength(own.stars.length);
    field.stars.forEach((star, i) => expect(star.flux / own.stars[i].flux).toBeCloseTo(by[p], 4));
    // And those that would be found in the mix itself, the glow taken off.
    const anew = detectStarField(raster.planes[p], SIDE, SIDE);
    expect(Math.abs(anew.stars.length - field.stars.length)).toBeLessThan(0.06 * field.stars.length);
    const bright = [...anew.stars].sort((a, b) => b.flux - a.flux).slice(0, 60);
    for (const star of bright) {
      const twin = field.stars.find((other) => Math.hypot(other.x - star.x, other.y - star.y) < 0.3);
      expect(twin && twin.flux / star.flux).toBeGreaterThan(0.95);
      expect(twin && twin.flux / star.flux).toBeLessThan(1.05);
    }
  });
});

it('stars of what continuum subtraction softens are those of the sharper image, as wide as the other’s', () => {
  const soft = (id: string) => ({ id, from: { stack: id } });
  const steps = [{ do: 'continuum', broad: 'B', matchSeeing: true }];
  const recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [soft('B'), { ...soft('G'), steps }],
  } as Recipe;
  const { graph, figures } = evaluateRecipe(recipe, stacks, 'strands[1]');
  const [line, broad] = graph.nodes[graph.byPath.get('strands[1]') ?? -1].inputs;
  const fieldOf = (node: number) => {
    const spec = { kind: 'stars', nodes: [node] } as const;
    expect(cheapestPlan(graph, spec).by).toBe('carrying');
    const figure = figures.get(measurementKeyIn(graph, spec));
    if (!figure) throw new Error('no stars');
    return unpackFields(figure)[0];
  };
  const [sharp, wide] = [stacks.G, stacks.B].map(({ planes }) => detectStarField(planes[0], SIDE, SIDE));
  const [made, other] = [fieldOf(line), fieldOf(broad)];
  expect(other).toEqual({ ...wide, stars: other.stars });
  expect(made.stars).toHaveLength(sharp.stars.length);
  expect(measureSeeing(made).fwhm / measureSeeing(wide).fwhm).toBeCloseTo(1, 2);
  // Held to the smoothed pixels themselves: places, light and tops.
  const blurred = gaussian(
    stacks.G.planes[0],
    FRAME,
    matchingBlurSigma(measureSeeing(sharp), measureSeeing(wide).fwhm),
    FRAME,
  );
  const anew = detectStarField(blurred, SIDE, SIDE).stars;
  const bright = [...anew].sort((a, b) => b.flux - a.flux).slice(0, 40);
  const twins = bright.map((star) => made.stars.find((s) => Math.hypot(s.x - star.x, s.y - star.y) < 0.5));
  expect(twins.filter((twin) => twin !== undefined).length).toBeGreaterThan(36);
  const middle = (of: (i: number) => number) =>
    bright
      .map((_, i) => (twins[i] ? of(i) : Number.NaN))
      .filter((v) => v === v)
      .sort((a, b) => a - b)[18];
  // The circle about a wider star is wider, and holds a little more of the wings.
  expect(Math.abs(middle((i) => (twins[i]?.flux ?? 0) / bright[i].flux) - 0.97)).toBeLessThan(0.05);
  // A top found anew is the brightest of its pixels, noise and all.
  expect(Math.abs(middle((i) => (twins[i]?.peak ?? 0) / bright[i].peak) - 0.97)).toBeLessThan(0.05);
});

it.each([
  ['two strands in a column', { red: { R: 1, G: 1 }, green: { G: 1 }, blue: { B: 1 } }],
  ['an empty column', { red: { R: 1 }, green: { G: 1 } }],
  ['a strand upside down', { red: { R: -1 }, green: { G: 1 }, blue: { B: 1 } }],
])('stars are found anew where a mix has %s', (_, mix) => {
  const { graph } = evaluateRecipe(recipe(mix, 'as-is', []), stacks, 'strands[3]');
  const node = graph.byPath.get('strands[3]') ?? -1;
  expect(cheapestPlan(graph, { kind: 'stars', nodes: [node] }).by).toBe('measuring');
});

it('stars are found anew behind a gradient that is divided out, or laid on in part', () => {
  for (const step of [
    { do: 'gradient', by: 'divide' },
    { do: 'gradient', opacity: 0.5 },
  ]) {
    const { graph } = evaluateRecipe(
      { format: 'owl-loom-recipe', version: 1, strands: [{ id: 'R', from: { stack: 'R' }, steps: [step] }] },
      stacks,
      'strands[0]',
    );
    const node = graph.byPath.get('strands[0]') ?? -1;
    expect(cheapestPlan(graph, { kind: 'stars', nodes: [node] }).by).toBe('measuring');
  }
});
