import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UserError } from '@owl-loom/base/errors';
import { LIMITS, checkSize } from './limits';
import { parseRecipe, parseRecipeText } from './parse';

const base = { format: 'owl-loom-recipe', version: 1, strands: [{ id: 'a', from: { stack: 'a' } }] };
const many = <T>(count: number, of: (i: number) => T): T[] => Array.from({ length: count }, (_, i) => of(i));
const step = { do: 'level-sky' };
const layer = { of: { strand: 'a' } };
const point = [0, 0];
const stroke = { shape: 'stroke', mode: 'hide', radius: 1, points: [point] };

/** What is said of a recipe, and of which place; empty where it is taken. */
function said(recipe: unknown): { code?: string; message?: string; path?: string } {
  try {
    parseRecipe(recipe);
    return {};
  } catch (error) {
    if (error instanceof UserError) return { code: error.code, message: error.message, path: error.path };
    throw error;
  }
}

/** Recipes with so many of one kind, and where those stand. */
const LISTS: readonly [of: string, most: number, path: string, make: (count: number) => object][] = [
  [
    'steps',
    LIMITS.steps,
    'strands[0].steps',
    (n) => ({ strands: [{ ...base.strands[0], steps: many(n, () => step) }] }),
  ],
  ['strands', LIMITS.strands, 'strands', (n) => ({ strands: many(n, (i) => ({ id: `s${i}`, from: { stack: 'a' } })) })],
  ['layers', LIMITS.layers, 'cloth.layers', (n) => ({ cloth: { layers: many(n, () => layer) } })],
  ['masks', LIMITS.masks, 'masks', (n) => ({ masks: many(n, (i) => ({ id: `m${i}`, of: { strand: 'a' } })) })],
  [
    'painted shapes',
    LIMITS.shapes,
    'masks[0].paint',
    (n) => ({ masks: [{ id: 'm', of: { strand: 'a' }, paint: many(n, () => stroke) }] }),
  ],
  [
    'points',
    LIMITS.points,
    'masks[0].paint[0].points',
    (n) => ({ masks: [{ id: 'm', of: { strand: 'a' }, paint: [{ ...stroke, points: many(n, () => point) }] }] }),
  ],
  [
    'strokes',
    LIMITS.shapes,
    'cloth.steps[0].strokes',
    (n) => ({
      cloth: { layers: [layer], steps: [{ do: 'mend', strokes: many(n, () => ({ radius: 1, points: [point] })) }] },
    }),
  ],
];

describe('the limits of a recipe', () => {
  it.each(LISTS)(
    '%s: the most that there may be are taken, one more is refused where it stands',
    (of, max, path, make) => {
      expect(said({ ...base, ...make(max) })).toEqual({});
      const refused = said({ ...base, ...make(max + 1) });
      expect(refused).toMatchObject({ code: 'recipe-large', path });
      expect(refused.message).toMatch(new RegExp(`at most ${max} ${of}; `));
    },
  );

  it('count steps and layers of all lists together', () => {
    const strands = many(11, (i) => ({ id: `s${i}`, from: { stack: 'a' }, steps: many(200, () => step) }));
    expect(said({ ...base, strands }).message).toMatch(/This recipe has 2200 steps; the limit is 2000/);
    const inner = { of: { layers: many(500, () => layer) } };
    expect(said({ ...base, cloth: { layers: many(4, () => inner) } }).message).toMatch(
      /This recipe has 2004 layers; the limit is 2000/,
    );
    expect(said({ ...base, strands: strands.slice(0, 10) })).toEqual({});
  });

  it('refuse text of more than four megabytes before it is read', () => {
    const text = JSON.stringify({ ...base, name: 'x'.repeat(LIMITS.bytes) });
    expect(() => parseRecipeText(text, 'long.json')).toThrow(/This recipe has 4\.0 MB; the limit is 4 MB/);
  });

  it('are looked for without climbing into what lies deep, whatever it is', () => {
    let deep: unknown = [];
    for (let i = 0; i < 200_000; i++) deep = i % 2 ? { layers: [deep] } : [deep];
    expect(() => checkSize(deep)).toThrow(/This recipe has 100000 layers/);
    fc.assert(
      fc.property(fc.json({ maxDepth: 8 }), (text) => {
        checkSize(JSON.parse(text));
      }),
    );
  });
});
