import { describe, expect, it } from 'vitest';
import type { Recipe } from '../schema';
import { parseRecipe } from '../parse';
import { withPaletteWeights } from './recolour';
import { BUILT_IN_PALETTES } from './built-in';

const stacks = [
  { name: 'night Ha', filter: 'Ha', planes: 1 },
  { name: 'night OIII', filter: 'OIII', planes: 1 },
  { name: 'night SII', filter: 'SII', planes: 1 },
];
const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Made ready',
  strands: [
    { id: 'raw', from: { stack: 'night Ha' } },
    { id: 'h', from: { stack: 'night Ha' }, steps: [{ do: 'gradient' }] },
    { id: 'o', from: { stack: 'night OIII' }, steps: [{ do: 'denoise' }, { do: 'linear-fit', to: 'h' }] },
    { id: 's', from: { stack: 'night SII' } },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: {
          mix: { red: { h: 1 }, green: { o: 0.7, h: 0.3 }, blue: { o: 1 } },
          weights: 'share',
          gain: { o: 1.4 },
          off: { columns: ['red'] },
        },
        steps: [{ do: 'stretch', target: 0.2 }],
      },
      { id: 'glow', of: { strand: 'h' }, steps: [{ do: 'stretch' }], blend: 'screen', opacity: 0.3 },
    ],
    steps: [{ do: 'saturation', amount: 0.2 }],
  },
};
const palette = (name: string) => {
  const found = BUILT_IN_PALETTES.find((one) => one.name === name);
  if (!found) throw new Error(`no ${name}`);
  return found;
};
const mixOf = (made: Recipe) => (made.cloth?.layers[0].of as { mix: object } | undefined)?.mix;

describe('a recipe in the colours of a palette', () => {
  it('takes its weights, by filters, from the strands that were made ready, and keeps all else', () => {
    const made = withPaletteWeights(recipe, palette('SHO'), stacks);
    expect(mixOf(made)).toEqual({ red: { s: 1 }, green: { h: 1 }, blue: { o: 1 } });
    expect(made.name).toBe('Made ready, SHO');
    const [base] = made.cloth?.layers ?? [];
    // What was switched off for a look was another tie-up's.
    expect(base.of).toEqual({ mix: mixOf(made), weights: 'share', gain: { o: 1.4 } });
    expect({
      ...made,
      name: recipe.name,
      cloth: { ...made.cloth, layers: [{ ...base, of: recipe.cloth?.layers[0].of }, made.cloth?.layers[1]] },
    }).toEqual(recipe);
    expect(() => parseRecipe(made)).not.toThrow();
  });

  it('has the luminance of the palette, where it has one', () => {
    expect(mixOf(withPaletteWeights(recipe, palette('SHO, Ha as luminance'), stacks))).toMatchObject({
      luminance: { h: 1 },
    });
  });

  it('dressed in one palette after another is as though it had been dressed in the last alone', () => {
    for (const first of ['SHO', 'HOO', 'OHS'])
      for (const second of ['HSO', 'SOO', 'SHO, Ha as luminance'])
        expect({
          ...withPaletteWeights(withPaletteWeights(recipe, palette(first), stacks), palette(second), stacks),
          name: '',
        }).toEqual({
          ...withPaletteWeights(recipe, palette(second), stacks),
          name: '',
        });
  });

  it('is refused in a sentence where there is no strand, no tie-up, or more than weights', () => {
    const without = { ...recipe, strands: recipe.strands.filter(({ id }) => id !== 's') };
    expect(() => withPaletteWeights(without, palette('SHO'), stacks)).toThrow(/no strand of SII/);
    const bare = { ...recipe, cloth: { layers: [{ id: 'x', of: { strand: 'h' } }] } };
    expect(() => withPaletteWeights(bare, palette('SHO'), stacks)).toThrow(/no tie-up/);
    expect(() => withPaletteWeights(recipe, palette('Two lines, made green'), stacks)).toThrow(
      /more than stacks by weights/,
    );
  });
});
