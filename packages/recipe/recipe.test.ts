import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UserError } from '@owl-loom/base/errors';
import { parseRecipe, parseRecipeText } from './parse';
import { recipeJsonSchema } from './json-schema';

const small = () => ({
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } }, weights: 'share' },
        steps: [{ do: 'stretch' }],
        blend: 'normal',
      },
    ],
    steps: [],
  },
});

/** The recipe with one place changed. */
function changed(path: (string | number)[], value: unknown): unknown {
  const recipe = structuredClone(small()) as Record<string | number, unknown>;
  let at = recipe;
  for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
  at[path[path.length - 1]] = value;
  return recipe;
}

function fault(data: unknown): UserError {
  try {
    parseRecipe(data);
  } catch (thrown) {
    if (thrown instanceof UserError) return thrown;
    throw thrown;
  }
  throw new Error('it was taken');
}

describe('recipes', () => {
  it('of the design are taken whole, future steps and masks among them', () => {
    const text = readFileSync(new URL('../testing/fixtures/design-recipe.json', import.meta.url), 'utf8');
    const recipe = parseRecipeText(text, 'design');
    expect(recipe).toEqual(JSON.parse(text));
  });

  it('read back unchanged', () => {
    expect(JSON.parse(JSON.stringify(parseRecipe(small())))).toEqual(small());
  });

  it.each([
    [
      'an unknown key',
      ['strands', 1, 'steps', 0, 'degree'],
      3,
      'strands[1].steps[0].degree',
      /Unknown key "degree"\. Check the spelling or remove it/,
    ],
    [
      'an unknown key of a layer',
      ['cloth', 'layers', 0, 'glow'],
      1,
      'cloth.layers[0].glow',
      /Unknown key "glow"\. Check the spelling or remove it/,
    ],
    ['an unknown key at the top', ['colour'], 1, 'colour', /Unknown key "colour"\. Check the spelling or remove it/],
    [
      'an unknown key of a source',
      ['cloth', 'layers', 0, 'of', 'share'],
      1,
      'cloth.layers[0].of.share',
      /Unknown key "share"\. Check the spelling or remove it/,
    ],
    [
      'an unknown step',
      ['cloth', 'layers', 0, 'steps', 0, 'do'],
      'sharpn',
      'cloth.layers[0].steps[0].do',
      /"sharpn" is not a step/,
    ],
    ['an opacity above 1', ['cloth', 'layers', 0, 'opacity'], 1.5, 'cloth.layers[0].opacity', /at most 1/],
    ['an opacity below 0', ['strands', 1, 'steps', 0, 'opacity'], -0.1, 'strands[1].steps[0].opacity', /at least 0/],
    ['an unknown blend', ['cloth', 'layers', 0, 'blend'], 'glaze', 'cloth.layers[0].blend', /"normal" or/],
    [
      'a missing parameter',
      ['strands', 1, 'steps', 0],
      { do: 'linear-fit' },
      'strands[1].steps[0].to',
      /Missing; must be a string\./,
    ],
    ['a wrong type', ['strands', 0, 'from', 'stack'], 7, 'strands[0].from.stack', /Must be a string/],
    ['a bad colour', ['cloth', 'layers', 0, 'of'], { colour: 'red' }, 'cloth.layers[0].of.colour', /#rrggbb/],
    [
      'a weight that is a word',
      ['cloth', 'layers', 0, 'of', 'mix', 'red', 'Ha'],
      'much',
      'cloth.layers[0].of.mix.red.Ha',
      /Must be a number/,
    ],
  ])('%s is refused with its path', (_, path, value, where, message) => {
    const found = fault(changed(path, value));
    expect(found.path).toBe(where);
    expect(found.message).toMatch(message);
    expect(found.message.length).toBeLessThan(400);
  });

  it('of another format or version are refused', () => {
    expect(fault({ ...small(), format: 'something' }).path).toBe('format');
    expect(fault({ ...small(), version: 2 })).toMatchObject({ path: 'version', code: 'recipe-version' });
    expect(fault([]).code).toBe('recipe-format');
    expect(() => parseRecipeText('{ "format": ', 'half.json')).toThrow(/half.json is not valid JSON/);
  });

  it('never break the checker, whatever stands in them', () => {
    fc.assert(
      fc.property(
        fc.constantFrom<(string | number)[]>(
          ['strands'],
          ['strands', 0],
          ['strands', 1, 'steps', 0],
          ['cloth'],
          ['cloth', 'layers', 0, 'of'],
        ),
        fc.jsonValue(),
        (path, value) => {
          try {
            parseRecipe(changed(path, value));
          } catch (thrown) {
            expect(thrown).toBeInstanceOf(UserError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  it('are described by the schema in docs', () => {
    const published = JSON.parse(readFileSync(new URL('../../docs/recipe.schema.json', import.meta.url), 'utf8'));
    expect(published).toEqual(JSON.parse(JSON.stringify(recipeJsonSchema())));
  });
});
