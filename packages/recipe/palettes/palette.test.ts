import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildGraph } from '@owl-loom/engine/build/graph-builder';
import type { StackInfo } from '@owl-loom/engine/graph';
import { parseRecipe } from '../parse';
import type { Recipe, Strand } from '../schema';
import { withPreparation } from './prepare';
import { filtersOf, missingFilters, paletteFromRecipe, type FilteredStack, recipeFromPalette } from './palette';
import { BUILT_IN_PALETTES } from './built-in';
import { joinWithAnd } from '@owl-loom/base/join-words';

const FILTERS = ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'];
/** Stacks whose names say nothing of their filters. */
const stacks: FilteredStack[] = FILTERS.map((filter, i) => ({ name: `night ${i}`, filter, planes: 1 }));
const infos = new Map(
  stacks.map(({ name }): [string, StackInfo] => [
    name,
    { id: name, width: 60, height: 40, planes: 1, domain: 'linear' },
  ]),
);

describe('shipped palettes', () => {
  it('have names of their own', () => {
    expect(new Set(BUILT_IN_PALETTES.map(({ name }) => name)).size).toBe(BUILT_IN_PALETTES.length);
  });

  it.each(BUILT_IN_PALETTES.map((palette) => [palette.name, palette] as const))(
    '%s weaves without a fault',
    (_, palette) => {
      const recipe = parseRecipe(recipeFromPalette(palette, stacks));
      const graph = buildGraph(recipe, infos);
      expect(graph.faults).toEqual([]);
      expect(graph.warnings).toEqual([]);
      expect(graph.nodes[graph.cloth ?? -1]).toMatchObject({ planes: 3, domain: 'stretched' });
      // Every filter that it asks for is used, and no other.
      const used = graph.nodes.flatMap(({ stack }) => (stack ? [stack.name] : []));
      expect(new Set(used)).toEqual(
        new Set(stacks.filter(({ filter }) => filtersOf(palette).includes(filter ?? '')).map(({ name }) => name)),
      );
    },
  );

  it.each(BUILT_IN_PALETTES.map((palette) => [palette.name, palette] as const))(
    '%s comes back from its recipe',
    (_, palette) => {
      const again = paletteFromRecipe(recipeFromPalette(palette, stacks), stacks, palette.name, palette.says);
      expect(again).toEqual(palette);
    },
  );
});

describe('a palette for a set of stacks', () => {
  const sho = BUILT_IN_PALETTES[0];

  it('names the filters that are missing', () => {
    const few = stacks.filter(({ filter }) => filter === 'Ha');
    expect(missingFilters(sho, few)).toEqual(['OIII', 'SII']);
    expect(() => recipeFromPalette(sho, few)).toThrow(/OIII and SII/);
  });

  it('takes the mono stack of a filter where there is a colour one as well', () => {
    const colour = { name: 'colour', filter: 'Ha', planes: 3 };
    expect(recipeFromPalette(sho, [colour, ...stacks]).strands[0].from).toEqual({ stack: 'night 4' });
    const plane: Recipe = {
      ...sho.recipe,
      strands: [{ id: 'Ha', from: { stack: 'Ha', plane: 'red' } }, ...sho.recipe.strands.slice(1)],
    };
    expect(recipeFromPalette({ ...sho, recipe: plane }, [...stacks, colour]).strands[0].from).toEqual({
      stack: 'colour',
      plane: 'red',
    });
  });

  it('says a list as people do', () => {
    expect([[], ['a'], ['a', 'b'], ['a', 'b', 'c']].map(joinWithAnd)).toEqual(['', 'a', 'a and b', 'a, b and c']);
  });
});

describe('a recipe kept as a palette', () => {
  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    sky: { x: 1, y: 2, width: 3, height: 4 },
    strands: [
      {
        id: 'h',
        from: { stack: 'night 4' },
        steps: [
          { do: 'crop', x: 0, y: 0, width: 5, height: 5 },
          { do: 'align', to: 'o' },
          { do: 'gradient', degree: 3, samples: [{ x: 1, y: 1, size: 9 }] },
          { do: 'linear-fit', to: 'o', hold: { a: 0, b: 1 }, region: { x: 0, y: 0, width: 2, height: 2 } },
        ],
      },
      { id: 'o', from: { stack: 'night 5' } },
      { id: 'both', from: { layers: [{ of: { strand: 'h' }, steps: [{ do: 'mend', strokes: [] }] }] } },
    ],
    masks: [
      {
        id: 'm',
        of: { strand: 'h' },
        paint: [{ mode: 'hide', shape: 'ramp', from: [0, 0], to: [1, 1] }],
      },
    ],
    cloth: {
      layers: [
        {
          of: { strand: 'h' },
          steps: [
            { do: 'starless', sensitivity: 2, spare: [{ x: 1, y: 1 }], mask: { of: { strand: 'o' }, paint: [] } },
          ],
        },
      ],
      extent: { x: 0, y: 0, width: 4, height: 4 },
      orient: { turn: 90 },
    },
  };

  it('leaves out what belongs to its one picture, and nothing else', () => {
    expect(paletteFromRecipe(recipe, stacks, 'Mine', 'my own').recipe).toEqual({
      format: 'owl-loom-recipe',
      version: 1,
      strands: [
        {
          id: 'h',
          from: { stack: 'Ha' },
          steps: [
            { do: 'gradient', degree: 3 },
            { do: 'linear-fit', to: 'o' },
          ],
        },
        { id: 'o', from: { stack: 'OIII' } },
        { id: 'both', from: { layers: [{ of: { strand: 'h' }, steps: [] }] } },
      ],
      masks: [{ id: 'm', of: { strand: 'h' } }],
      cloth: {
        layers: [{ of: { strand: 'h' }, steps: [{ do: 'starless', sensitivity: 2, mask: { of: { strand: 'o' } } }] }],
      },
    });
  });

  it('refuses stacks that no filter, or one filter, tells apart', () => {
    const nameless = stacks.map((stack) => (stack.name === 'night 5' ? { ...stack, filter: null } : stack));
    expect(() => paletteFromRecipe(recipe, nameless, 'Mine', '')).toThrow(/night 5 has none/);
    const alike = stacks.map((stack) => (stack.name === 'night 5' ? { ...stack, filter: 'Ha' } : stack));
    expect(() => paletteFromRecipe(recipe, alike, 'Mine', '')).toThrow(/night 4 and night 5 are both Ha/);
  });
});

describe('a recipe begun well', () => {
  const names = stacks.map(({ name }) => name);
  const ground = fc.record({
    reference: fc.constantFrom(...names),
    askew: fc.subarray(names),
    untold: fc.subarray(names),
    uneven: fc.subarray(names),
  });

  it('does what each stack needs, once, and can be woven', () => {
    fc.assert(
      fc.property(fc.constantFrom(...BUILT_IN_PALETTES), ground, (palette, found) => {
        const askew = found.askew.filter((name) => name !== found.reference && !found.untold.includes(name));
        const known = { ...found, askew };
        const plain = recipeFromPalette(palette, stacks);
        const recipe = withPreparation(plain, known);
        expect(withPreparation(recipe, known)).toEqual(recipe);
        expect(buildGraph(parseRecipe(recipe), infos).faults).toEqual([]);
        const targets = new Set<string>();
        for (const [i, { id, from, steps = [] }] of recipe.strands.entries()) {
          // The last one may be the reference, which a palette does not use.
          const before = plain.strands[i]?.steps ?? [];
          expect(steps.slice(steps.length - before.length)).toEqual(before);
          if (!('stack' in from)) continue;
          const added = steps.slice(0, steps.length - before.length).map((step) => step.do);
          expect(added.includes('gradient')).toBe(known.uneven.includes(from.stack));
          for (const step of steps) if (step.do === 'align') targets.add(`${id} to ${step.to}`);
        }
        const stackOf = ({ from }: Strand) => ('stack' in from ? from.stack : '');
        const told = recipe.strands.filter((strand) => stackOf(strand) && !known.untold.includes(stackOf(strand)));
        const isWell = (strand: Strand) => !known.askew.includes(stackOf(strand));
        // All that is moved is moved onto one strand, which is moved onto none.
        const ends = new Set([...targets].map((text) => text.split(' to ')[1]));
        expect(ends.size).toBeLessThanOrEqual(1);
        // Whatever lies on another grid than that one is moved, and of what is not known nothing.
        const onto = told.find(({ id }) => ends.has(id));
        expect(onto === undefined).toBe(ends.size === 0);
        for (const strand of onto ? told : [])
          if (onto && strand !== onto)
            expect(targets.has(`${strand.id} to ${onto.id}`)).toBe(!(isWell(strand) && isWell(onto)));
        for (const text of targets) expect(ends.has(text.split(' to ')[0])).toBe(false);
        if (targets.size > 0) expect(recipe.cloth?.extent).toBe('common');
      }),
      { numRuns: 200 },
    );
  });

  it('leaves alone what someone has placed or evened already', () => {
    const own: Recipe = {
      format: 'owl-loom-recipe',
      version: 1,
      strands: [
        { id: 'a', from: { stack: 'night 0' } },
        {
          id: 'b',
          from: { stack: 'night 4' },
          steps: [
            { do: 'place', dx: 3 },
            { do: 'gradient', degree: 1 },
          ],
        },
      ],
    };
    expect(withPreparation(own, { reference: 'night 0', askew: ['night 4'], uneven: ['night 4'] })).toEqual(own);
  });
});
