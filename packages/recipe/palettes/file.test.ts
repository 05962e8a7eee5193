import { describe, expect, it } from 'vitest';
import { UserError } from '@owl-loom/base/errors';
import { PALETTE_FORMAT, paletteFile, parsePalette } from './file';
import { BUILT_IN_PALETTES } from './built-in';

describe('a palette as a file', () => {
  it.each(BUILT_IN_PALETTES.map((palette) => [palette.name, palette] as const))(
    'is the same when it comes back: %s',
    (_, palette) => {
      expect(parsePalette(JSON.parse(paletteFile(palette)))).toEqual(palette);
    },
  );

  it.each([
    ['nothing', null, /This is not an Owl Loom palette/],
    ['a recipe', BUILT_IN_PALETTES[0].recipe, /This is not an Owl Loom palette/],
    ['a newer one', { format: PALETTE_FORMAT, version: 2 }, /another version/],
    [
      'one without a name',
      { format: PALETTE_FORMAT, version: 1, name: ' ', recipe: BUILT_IN_PALETTES[0].recipe },
      /This palette has no valid name/,
    ],
    [
      'one that says a number',
      { format: PALETTE_FORMAT, version: 1, name: 'x', says: 7, recipe: BUILT_IN_PALETTES[0].recipe },
      /The description of this palette is not valid/,
    ],
    ['one without a recipe', { format: PALETTE_FORMAT, version: 1, name: 'x' }, /./],
    [
      'one whose recipe is broken',
      { format: PALETTE_FORMAT, version: 1, name: 'x', recipe: { ...BUILT_IN_PALETTES[0].recipe, strands: 7 } },
      /array/,
    ],
  ])('that is %s is refused in a sentence', (_, data, says) => {
    expect(() => parsePalette(data)).toThrow(UserError);
    expect(() => parsePalette(data)).toThrow(says);
  });
});
