import fc from 'fast-check';
import { expect, it } from 'vitest';
import { DEMO_RECIPES } from '../../demo/recipes';
import { diffRecipes } from './diff';
import type { Recipe } from './schema';

const plain: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'A',
  strands: [
    {
      id: 'Ha',
      from: { stack: 'Ha' },
      steps: [{ do: 'gradient', degree: 2 }, { do: 'denoise' }, { do: 'denoise', strength: 2 }],
    },
    { id: 'OIII', from: { stack: 'OIII' } },
  ],
  masks: [{ id: 'gas', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] }],
  cloth: {
    layers: [
      { id: 'base', name: 'ground', of: { mix: { red: { Ha: 1 }, green: { OIII: 1.5 } }, weights: 'share' } },
      { id: 'glow', of: { strand: 'Ha' }, blend: 'add', mask: 'gas' },
    ],
    steps: [{ do: 'levels', black: 0.05 }],
  },
};

const changed = (change: (recipe: Recipe) => void): string[] => {
  const other = structuredClone(plain);
  change(other);
  return diffRecipes(plain, other).map(({ where, what }) => `${where}: ${what}`);
};
/** The same, where a part is sure to be there. */
const at = <T>(list: readonly T[] | undefined, i: number): { -readonly [K in keyof T]: T[K] } => {
  if (!list) throw new Error('there is no such list');
  return list[i];
};

it('numbers and choices are told with what they were and what they are', () => {
  expect(
    changed((recipe) => {
      const base = at(recipe.cloth?.layers, 0);
      base.of = { mix: { red: { Ha: 1 }, green: { OIII: 2 } }, weights: 'share' };
      at(recipe.cloth?.layers, 1).blend = 'screen';
      at(recipe.cloth?.layers, 1).opacity = 0.6;
      at(recipe.cloth?.steps, 0).black = 0.1 + 0.2;
    }),
  ).toEqual([
    'layer ground: green OIII 1.5 → 2',
    'layer glow: blend add → screen',
    'layer glow: opacity 0.6 (new)',
    'picture: levels black 0.05 → 0.3',
  ]);
});

it('what is new, gone or moved is told, and the second step of a kind is held against the second', () => {
  expect(
    changed((recipe) => {
      const ha = at(recipe.strands, 0);
      ha.steps = [{ do: 'denoise' }, { do: 'denoise', strength: 3 }, { do: 'blur', radius: 2 }];
      at(recipe.cloth?.layers, 1).mask = undefined;
      recipe.masks = [{ ...at(recipe.masks, 0), invert: true }];
      (recipe.strands as unknown[]).push({ id: 'SII', from: { stack: 'SII' } });
    }),
  ).toEqual([
    'Ha: gradient removed',
    'Ha: denoise (2) strength 2 → 3',
    'Ha: blur added',
    'SII: added',
    'mask gas: invert on (new)',
    'layer glow: mask removed (was gas)',
  ]);
  expect(
    changed((recipe) => {
      if (recipe.cloth) recipe.cloth = { ...recipe.cloth, layers: [...recipe.cloth.layers].reverse() };
    }),
  ).toEqual(['picture: layer order changed']);
});

it('small cloths, masks in place and steps taken in part are looked into', () => {
  const nested = (opacity: number): Recipe => ({
    ...plain,
    cloth: {
      layers: [
        {
          id: 'room',
          of: { layers: [{ id: 'in', of: { strand: 'Ha' }, steps: [{ do: 'blur', radius: 3, opacity }] }] },
          mask: { of: { strand: 'Ha' }, steps: [{ do: 'range', low: opacity, high: 1 }] },
        },
      ],
    },
  });
  expect(diffRecipes(nested(0.5), nested(0.75))).toEqual([
    { where: 'layer in', what: 'blur opacity 0.5 → 0.75' },
    { where: 'mask of layer room', what: 'range low 0.5 → 0.75' },
  ]);
});

it('a recipe differs from itself in nothing, and from each other one in something said', () => {
  const all = Object.values(DEMO_RECIPES).flat();
  fc.assert(
    fc.property(fc.constantFrom(...all), fc.constantFrom(...all), (a, b) => {
      const words = diffRecipes(a, b);
      expect(words.length > 0).toBe(JSON.stringify({ ...a, name: '' }) !== JSON.stringify({ ...b, name: '' }));
      for (const { where, what } of words) expect(`${where} ${what}`).not.toMatch(/undefined|\[object|NaN/);
    }),
  );
});
