import { describe, expect, it } from 'vitest';
import { detectStarField } from '@owl-loom/algorithms/stars/field';
import { randomFrom } from '@owl-loom/testing/random';
import { type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { withPreparation } from './prepare';
import { type FilteredStack, recipeFromPalette } from './palette';
import { BUILT_IN_PALETTES } from './built-in';

const [width, height] = [420, 320];
const NOISE = 0.0008;

/** One sky as a telescope sees it that points a little elsewhere and is turned by a little. */
function seen(seed: number, dx: number, dy: number, degrees: number, strength: number): TestStack {
  const sky = randomFrom(77);
  const noise = randomFrom(seed);
  const plane = Float32Array.from({ length: width * height }, () => 0.02 + NOISE * noise.normal());
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  for (let k = 0; k < 160; k++) {
    const [u, v] = [(width + 60) * sky.next() - 30 - width / 2, (height + 60) * sky.next() - 30 - height / 2];
    const peak = strength * 0.03 * (1 - sky.next()) ** -0.7;
    const [x0, y0] = [width / 2 + c * u - s * v + dx, height / 2 + s * u + c * v + dy];
    for (let y = Math.max(0, Math.ceil(y0 - 9)); y <= Math.min(height - 1, y0 + 9); y++)
      for (let x = Math.max(0, Math.ceil(x0 - 9)); x <= Math.min(width - 1, x0 + 9); x++)
        plane[y * width + x] += Math.min(0.5, peak) * Math.exp(-((x - x0) ** 2 + (y - y0) ** 2) / 3.4);
  }
  return { width, height, planes: [plane] };
}

const stacks: Record<string, TestStack> = {
  red: seen(1, 0, 0, 0, 1),
  hydrogen: seen(2, 6.3, -4.6, 0.8, 0.6),
  oxygen: seen(3, -8.2, 5.1, -0.5, 0.7),
};
const rows: FilteredStack[] = [
  { name: 'red', filter: 'R', planes: 1 },
  { name: 'hydrogen', filter: 'Ha', planes: 1 },
  { name: 'oxygen', filter: 'OIII', planes: 1 },
];
const shipped = (name: string) => {
  const palette = BUILT_IN_PALETTES.find((own) => own.name === name);
  if (!palette) throw new Error(`no ${name}`);
  return palette;
};

/** How far the clear stars of one image lie from those of another, pixels: the middle, and how many are in both. */
function apart(a: Float32Array, b: Float32Array): { middle: number; count: number } {
  const [first, second] = [a, b].map((plane) =>
    detectStarField(plane, width, height).stars.filter((star) => star.flux > 25 * star.fluxError),
  );
  const offs = first
    .map((star) => Math.min(...second.map((other) => Math.hypot(other.x - star.x, other.y - star.y))))
    .filter((off) => off < 3)
    .sort((x, y) => x - y);
  return { middle: offs[offs.length >> 1], count: offs.length };
}

describe('stacks that lie askew of the one that they were judged by', () => {
  it('are brought to that one in every recipe, also where a palette does not use it: a target has one frame', () => {
    const ground = { reference: 'red', askew: ['hydrogen', 'oxygen'], uneven: [] };
    const recipe = withPreparation(recipeFromPalette(shipped('HOO'), rows), ground);
    const at = (name: string) => recipe.strands.findIndex(({ from }) => 'stack' in from && from.stack === name);
    expect(recipe.frame).toBe(recipe.strands[at('red')].id);
    for (const name of ['hydrogen', 'oxygen']) {
      const { planes } = evaluateRecipe(recipe, stacks, `strands[${at(name)}]`).raster;
      const { middle, count } = apart(stacks.red.planes[0], planes[0]);
      expect(count).toBeGreaterThan(40);
      expect(middle).toBeLessThan(0.1);
    }
    // And the cloth shows what both of them cover.
    expect(recipe.cloth?.extent).toBe('common');
    // Where nothing lies askew, nothing is added.
    const well = recipeFromPalette(shipped('HOO'), rows);
    expect(withPreparation(well, { ...ground, askew: [] })).toEqual(well);
  });

  it('are brought there by structures where stars are too few', () => {
    const ground = { reference: 'red', askew: ['hydrogen'], byStructures: ['hydrogen'], uneven: [] };
    const { strands } = withPreparation(recipeFromPalette(shipped('HOO'), rows), ground);
    const ha = strands.find(({ from }) => 'stack' in from && from.stack === 'hydrogen');
    expect(ha?.steps?.[0]).toMatchObject({ do: 'align', by: 'structures' });
    const oiii = strands.find(({ from }) => 'stack' in from && from.stack === 'oxygen');
    expect(oiii?.steps?.some((step) => step.do === 'align')).toBe(false);
  });

  it('are brought to that one where it is', () => {
    const ground = { reference: 'red', askew: ['hydrogen'], uneven: [] };
    const strands = [
      { id: 'R', from: { stack: 'red' } },
      { id: 'Ha', from: { stack: 'hydrogen' } },
    ];
    const recipe = withPreparation({ format: 'owl-loom-recipe', version: 1, strands }, ground);
    const { planes } = evaluateRecipe(recipe, stacks, 'strands[1]').raster;
    const { middle, count } = apart(stacks.red.planes[0], planes[0]);
    expect(count).toBeGreaterThan(40);
    expect(middle).toBeLessThan(0.1);
  });
});
