import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { StackInfo } from '@owl-loom/engine/graph';
import { parseRecipe } from '../parse';
import type { Recipe } from '../schema';
import { assignRoles, extractPattern, applyPattern } from './pattern';
import { patternBody } from './schema';

const stacks = ['Ha', 'OIII', 'R'].map((name) => ({ name: `s${name}`, filter: name }));
const filterOf = (name: string) => stacks.find((stack) => stack.name === name)?.filter;
const infos = new Map(
  stacks.map(({ name }): [string, StackInfo] => [
    name,
    { id: name, width: 40, height: 30, planes: 1, domain: 'linear' },
  ]),
);

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Whence',
  strands: [
    { id: 'Ha', from: { stack: 'sHa' }, steps: [{ do: 'continuum', broad: 'R', hold: { k: 0.2 } }] },
    { id: 'OIII', from: { stack: 'sOIII' } },
    { id: 'R', from: { stack: 'sR' } },
  ],
  masks: [
    { id: 'gas', of: { strand: 'Ha' }, steps: [{ do: 'stretch' }] },
    { id: 'idle', of: { strand: 'R' } },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } } },
        steps: [{ do: 'stretch' }],
      },
      { id: 'glow', of: { strand: 'OIII' }, steps: [{ do: 'stretch' }], blend: 'screen', mask: 'gas' },
    ],
    steps: [{ do: 'saturation', amount: 0.2, mask: 'gas' }],
  },
};
const empty: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'sHa' }, steps: [{ do: 'continuum', broad: 'R', hold: { k: 0.2 } }] },
    { id: 'OIII', from: { stack: 'sOIII' } },
    { id: 'R', from: { stack: 'sR' } },
  ],
};
const hashOf = (of: Recipe): string | undefined => {
  const graph = buildGraph(parseRecipe(of), infos);
  return graph.cloth === undefined ? undefined : graph.nodes[graph.cloth].hash;
};

describe('a pattern', () => {
  it('of all layers, threaded into a recipe with the same strands, gives the same picture', () => {
    const pattern = extractPattern(recipe, 'layers', 'cloth', filterOf);
    expect(pattern.roles).toEqual([
      { id: 'Ha', filter: 'Ha' },
      { id: 'OIII', filter: 'OIII' },
    ]);
    expect(pattern.masks?.map(({ id }) => id)).toEqual(['gas']);
    expect(patternBody.safeParse(pattern).success).toBe(true);
    const again = applyPattern(empty, pattern, assignRoles(pattern, empty, stacks));
    const { steps: _, ...plain } = recipe.cloth ?? { layers: [] };
    expect(hashOf(again)).toBe(hashOf({ ...recipe, cloth: plain }));
  });

  it('of steps brings the strands and masks that they read, and lets pinned figures go', () => {
    const pattern = extractPattern(recipe, 'steps', 'strands[0]', filterOf);
    expect(pattern).toEqual({
      kind: 'steps',
      roles: [{ id: 'R', filter: 'R' }],
      steps: [{ do: 'continuum', broad: 'R' }],
    });
    const onto = applyPattern(empty, pattern, assignRoles(pattern, empty, stacks), 'strands[1]');
    expect(onto.strands[1].steps).toEqual([{ do: 'continuum', broad: 'R' }]);
    const finish = extractPattern(recipe, 'steps', 'cloth', filterOf);
    expect(finish.roles.map(({ id }) => id)).toEqual(['Ha']);
    const woven = applyPattern(
      { ...empty, cloth: { layers: [{ of: { strand: 'R' } }] } },
      finish,
      assignRoles(finish, empty, stacks),
    );
    expect(woven.cloth?.steps).toEqual(recipe.cloth?.steps);
    expect(woven.masks).toEqual([recipe.masks?.[0]]);
  });

  it('of a mask brings the mask', () => {
    const pattern = extractPattern(recipe, 'mask', 'masks[0]', filterOf);
    expect(applyPattern(empty, pattern, assignRoles(pattern, empty, stacks)).masks).toEqual([recipe.masks?.[0]]);
    // Threaded twice it has another name the second time.
    const twice = applyPattern(recipe, pattern, assignRoles(pattern, recipe, stacks));
    expect(twice.masks?.map(({ id }) => id)).toEqual(['gas', 'idle', 'gas-2']);
    expect(() => parseRecipe(twice)).not.toThrow();
  });

  it('is told by filters: strands of other names play along, a stack where there is no strand', () => {
    const pattern = extractPattern(recipe, 'layers', 'cloth', filterOf);
    const other: Recipe = {
      format: 'owl-loom-recipe',
      version: 1,
      strands: [{ id: 'hydrogen', from: { stack: 'sHa' } }],
    };
    const cast = assignRoles(pattern, other, stacks);
    expect(cast).toEqual({ Ha: { strand: 'hydrogen' }, OIII: { stack: 'sOIII' } });
    const woven = applyPattern(other, pattern, cast);
    expect(woven.strands.map(({ id, from }) => [id, from])).toEqual([
      ['hydrogen', { stack: 'sHa' }],
      ['Ha', { strand: 'hydrogen' }],
      ['OIII', { stack: 'sOIII' }],
    ]);
    expect(hashOf(woven)).toBeDefined();
  });

  it('may have one strand play two parts, and says which part nobody plays', () => {
    const pattern = extractPattern(recipe, 'layers', 'cloth', filterOf);
    const bare: Recipe = { format: 'owl-loom-recipe', version: 1, strands: [{ id: 'X', from: { stack: 'sR' } }] };
    const woven = applyPattern(bare, pattern, { Ha: { strand: 'X' }, OIII: { strand: 'X' } });
    expect(hashOf(woven)).toBeDefined();
    expect(() => applyPattern(bare, pattern, assignRoles(pattern, bare, []))).toThrow(
      /No strand or stack assigned to Ha/,
    );
  });

  it('does not take a name away from another strand', () => {
    const pattern = extractPattern(recipe, 'steps', 'strands[0]', filterOf);
    const other: Recipe = {
      ...empty,
      strands: [
        { id: 'R', from: { stack: 'sOIII' } },
        { id: 'Ha', from: { stack: 'sHa' } },
      ],
    };
    expect(assignRoles(pattern, other, stacks)).toEqual({ R: { stack: 'sR' } });
    expect(() => applyPattern(other, pattern, assignRoles(pattern, other, stacks), 'strands[1]')).toThrow(
      /has a strand called R already/,
    );
  });

  it('is none where there is nothing to take', () => {
    expect(() => extractPattern(recipe, 'steps', 'strands[1]', filterOf)).toThrow(/nothing here to keep/);
    expect(() => extractPattern(empty, 'layers', 'cloth', filterOf)).toThrow(/nothing here to keep/);
    expect(() => extractPattern(recipe, 'mask', 'strands[0]', filterOf)).toThrow(/nothing here to keep/);
  });
});
