import { expect, it } from 'vitest';
import { fieldsOf } from '../figures/stars';
import type { Recipe } from '../recipe/schema';
import { starField } from '../stars/field';
import { makeSky } from '../testing/skies';
import { mono, weave } from '../testing/weave';
import { keyIn, wayTo } from './plan';

const SIDE = 320;

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
  const { graph, figures } = weave(mixed, stacks, 'strands[3]');
  const node = graph.byPath.get('strands[3].from') ?? -1;
  const spec = { kind: 'stars', nodes: [node] } as const;
  expect(wayTo(graph, spec).by).toBe('carrying');
  const figure = figures.get(keyIn(graph, spec));
  if (!figure) throw new Error('no stars');
  const { raster } = weave(mixed, stacks, 'strands[3].from');
  fieldsOf(figure).forEach((field, p) => {
    const own = starField(Object.values(stacks)[p].planes[0], SIDE, SIDE);
    expect(field.stars).toHaveLength(own.stars.length);
    field.stars.forEach((star, i) => expect(star.flux / own.stars[i].flux).toBeCloseTo(by[p], 4));
    // And those that would be found in the mix itself, the glow taken off.
    const anew = starField(raster.planes[p], SIDE, SIDE);
    expect(Math.abs(anew.stars.length - field.stars.length)).toBeLessThan(0.06 * field.stars.length);
    const bright = [...anew.stars].sort((a, b) => b.flux - a.flux).slice(0, 60);
    for (const star of bright) {
      const twin = field.stars.find((other) => Math.hypot(other.x - star.x, other.y - star.y) < 0.3);
      expect(twin && twin.flux / star.flux).toBeGreaterThan(0.95);
      expect(twin && twin.flux / star.flux).toBeLessThan(1.05);
    }
  });
});

it.each([
  ['two strands in a column', { red: { R: 1, G: 1 }, green: { G: 1 }, blue: { B: 1 } }],
  ['an empty column', { red: { R: 1 }, green: { G: 1 } }],
  ['a strand upside down', { red: { R: -1 }, green: { G: 1 }, blue: { B: 1 } }],
])('stars are found anew where a mix has %s', (_, mix) => {
  const { graph } = weave(recipe(mix, 'as-is', []), stacks, 'strands[3]');
  const node = graph.byPath.get('strands[3]') ?? -1;
  expect(wayTo(graph, { kind: 'stars', nodes: [node] }).by).toBe('measuring');
});

it('stars are found anew behind a gradient that is divided out, or laid on in part', () => {
  for (const step of [
    { do: 'gradient', by: 'divide' },
    { do: 'gradient', opacity: 0.5 },
  ]) {
    const { graph } = weave(
      { format: 'owl-loom-recipe', version: 1, strands: [{ id: 'R', from: { stack: 'R' }, steps: [step] }] },
      stacks,
      'strands[0]',
    );
    const node = graph.byPath.get('strands[0]') ?? -1;
    expect(wayTo(graph, { kind: 'stars', nodes: [node] }).by).toBe('measuring');
  }
});
