import { describe, expect, it } from 'vitest';
import type { Recipe } from './schema';
import {
  layersOfList,
  maskOwners,
  transitiveDependents,
  pathsUsingMask,
  stepOwnerAt,
  stepOwners,
  strandDependents,
  strandOwners,
  strandPath,
} from './walk';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'blur', radius: 2 }] },
    { id: 'R', from: { stack: 'R' } },
    { id: 'line', from: { strand: 'Ha' }, steps: [{ do: 'continuum', broad: 'R' }] },
  ],
  masks: [{ id: 'gas', of: { strand: 'line' }, steps: [{ do: 'stretch' }] }],
  cloth: {
    layers: [
      { id: 'base', of: { mix: { red: { Ha: 1 } } }, mask: { of: { strand: 'R' } } },
      {
        id: 'pair',
        of: { layers: [{ id: 'inner', of: { strand: 'line' }, steps: [{ do: 'scale' }] }] },
        visible: false,
      },
    ],
    steps: [{ do: 'linear-fit', to: 'Ha' }],
  },
};

describe('the walk of a recipe', () => {
  it('meets everything that has steps, each with its place and what it lies in', () => {
    expect([...stepOwners(recipe)].map(({ kind, path, within }) => [kind, path, within])).toEqual([
      ['strand', 'strands[0]', undefined],
      ['strand', 'strands[1]', undefined],
      ['strand', 'strands[2]', undefined],
      ['mask', 'masks[0]', undefined],
      ['layer', 'cloth.layers[0]', 'cloth'],
      ['mask', 'cloth.layers[0].mask', 'cloth.layers[0]'],
      ['layer', 'cloth.layers[1]', 'cloth'],
      ['layer', 'cloth.layers[1].of.layers[0]', 'cloth.layers[1]'],
      ['cloth', 'cloth', undefined],
    ]);
    expect(strandOwners(recipe).map(({ id }) => id)).toEqual(['Ha', 'R', 'line']);
    expect(layersOfList(recipe, 'cloth.layers').map(({ id, visible }) => [id, visible])).toEqual([
      ['base', true],
      ['pair', false],
    ]);
    expect(strandPath(recipe, 'line')).toBe('strands[2]');
    expect(strandPath(recipe, 'none')).toBeUndefined();
  });

  it.each([
    ['strands[2].steps[0].broad', 'strands[2]'],
    ['strands[1].from', 'strands[1]'],
    ['cloth.layers[0].mask.of', 'cloth.layers[0].mask'],
    ['cloth.layers[1].of.layers[0].steps[0]', 'cloth.layers[1].of.layers[0]'],
    ['cloth.layers[1]@cloth', 'cloth.layers[1]'],
    ['cloth.steps[0]', 'cloth'],
    ['masks[0].steps[0]', 'masks[0]'],
    ['cloth.layers[10]', 'cloth'],
    ['sky', undefined],
  ])('%s belongs to %s', (path, owner) => expect(stepOwnerAt(recipe, path)?.path).toBe(owner));

  it('finds who reads a strand wherever it is read, and not the strand itself', () => {
    const readers = (id: string) => strandDependents(recipe, id).map(({ path }) => path);
    expect(readers('Ha')).toEqual(['strands[2]', 'cloth.layers[0]', 'cloth']);
    expect(readers('R')).toEqual(['strands[2]', 'cloth.layers[0].mask']);
    expect(readers('line')).toEqual(['masks[0]', 'cloth.layers[1].of.layers[0]']);
    expect(readers('none')).toEqual([]);
  });

  it('tells the shared masks, and which layers and steps are seen through each', () => {
    const masked: Recipe = {
      ...recipe,
      strands: recipe.strands.map((strand, i) =>
        i > 0 ? strand : { ...strand, steps: [{ do: 'scale', mask: 'gas' }] },
      ),
      cloth: {
        layers: [
          { of: { strand: 'R' } },
          { of: { strand: 'R' }, mask: 'gas', steps: [{ do: 'stretch', mask: 'gas' }] },
        ],
        steps: [{ do: 'levels' }, { do: 'levels', mask: 'gas' }],
      },
    };
    expect(maskOwners(masked).map(({ path }) => path)).toEqual(['masks[0]']);
    expect(pathsUsingMask(masked, 'gas')).toEqual([
      'strands[0].steps[0]',
      'cloth.layers[1]',
      'cloth.layers[1].steps[0]',
      'cloth.steps[1]',
    ]);
    expect(pathsUsingMask(masked, 'none')).toEqual([]);
  });

  it('tells what is made of a strand, by its source, its steps and its masks', () => {
    const madeOf = (id: string, of: Recipe = recipe) => [...transitiveDependents(of, id)].sort();
    expect(madeOf('Ha')).toEqual(['Ha', 'line']);
    expect(madeOf('R')).toEqual(['R', 'line']);
    expect(madeOf('line')).toEqual(['line']);
    const masked = {
      ...recipe,
      strands: recipe.strands.map((strand) =>
        strand.id === 'R' ? { ...strand, steps: [{ do: 'scale', mask: 'gas' }] } : strand,
      ),
    };
    expect(madeOf('line', masked)).toEqual(['R', 'line']);
  });
});
