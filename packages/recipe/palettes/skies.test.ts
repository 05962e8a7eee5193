import { describe, expect, it } from 'vitest';
import type { Recipe } from '../schema';
import { type Field, fieldStars, ring, seen } from '@owl-loom/testing/fields';
import { recipeOf, strand, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { recipeFromPalette } from './palette';
import { BUILT_IN_PALETTES } from './built-in';

const [width, height] = [600, 400];
const shares = { L: 1, R: 0.42, G: 0.36, B: 0.33, Ha: 0.1, OIII: 0.07, SII: 0.05 };
const stars = fieldStars(6, { width, height, count: 60, faintest: 0.045 }, shares);
const field: Field = { ...ring(6, width, height), stars };
/** Sulfur shines where hydrogen does, and fainter, over a sky of its own. */
const sulfur: Field = { ...field, gas: (_, x, y) => 0.25 * field.gas('Ha', x, y) ** 1.2 };

const SEEN = {
  L: { fwhm: 2.4, noise: 0.0008, sky: 0.06 },
  R: { fwhm: 2.5, noise: 0.0016, sky: 0.045 },
  G: { fwhm: 2.6, noise: 0.0015, sky: 0.04 },
  B: { fwhm: 2.9, noise: 0.0018, sky: 0.05 },
  Ha: { fwhm: 2.6, noise: 0.0009, sky: 0.02 },
  OIII: { fwhm: 3.1, noise: 0.0008, sky: 0.026 },
  SII: { fwhm: 2.8, noise: 0.0011, sky: 0.031 },
} as const;
const stacks: Record<string, TestStack> = Object.fromEntries(
  Object.entries(SEEN).map(([filter, view], i) => [
    filter,
    { width, height, planes: [seen(filter === 'SII' ? sulfur : field, filter, { ...view, seed: 40 + i })] },
  ]),
);
const rows = Object.keys(SEEN).map((filter) => ({ name: filter, filter, planes: 1 }));

/** Median and grain, 1.4826 × MAD, of the true sky: the corners, which the ring does not reach. */
function trueSky(plane: Float32Array): { median: number; grain: number } {
  const [w, h] = [110, 70];
  const values: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if ((x < w || x >= width - w) && (y < h || y >= height - h)) values.push(plane[y * width + x]);
  const middle = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1];
  const median = middle(values);
  return { median, grain: 1.4826 * middle(values.map((v) => Math.abs(v - median))) };
}
const skiesOf = (recipe: Recipe) => evaluateRecipe(recipe, stacks).raster.planes.map(trueSky);

describe('the true sky', () => {
  it.each(BUILT_IN_PALETTES.map((palette) => [palette.name, palette] as const))(
    'of %s has no tint: its levels lie within a quarter of their grain',
    (_, palette) => {
      const skies = skiesOf(recipeFromPalette(palette, rows));
      const levels = skies.map(({ median }) => median);
      const grain = Math.min(...skies.map((sky) => sky.grain));
      expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(0.25 * grain);
    },
  );

  it.each(['before', 'after'])('stays level under a luminance, levelled %s it', (when) => {
    const colour = {
      id: 'RGB',
      from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } } },
      steps: when === 'before' ? [{ do: 'level-sky' }] : [],
    };
    const of = { mix: { red: { RGB: 1 }, green: { RGB: 1 }, blue: { RGB: 1 }, luminance: { L: 1 } } };
    const steps = when === 'after' ? [{ do: 'level-sky' }] : [];
    const strands = [...['L', 'R', 'G', 'B'].map((id) => strand(id)), colour];
    const skies = skiesOf(recipeOf(strands, { layers: [{ id: 'base', of, steps }] }));
    const levels = skies.map(({ median }) => median);
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(0.2 * Math.min(...skies.map((sky) => sky.grain)));
  });
});
