import { describe, expect, it } from 'vitest';
import type { Recipe, Strand } from '@owl-loom/recipe/schema';
import { graphOf, mono, onePixelStack, recipeOf, strand, type TestStack } from '@owl-loom/testing/evaluate-recipe';

describe('recipes that do not hold together', () => {
  const two = { A: onePixelStack(1), B: onePixelStack(2) };
  it.each([
    ['a strand that needs itself', [strand('A', [{ do: 'linear-fit', to: 'A' }])], 'loop', /A uses itself/],
    [
      'a loop through two',
      [strand('A', [{ do: 'linear-fit', to: 'B' }]), strand('B', [{ do: 'linear-fit', to: 'A' }])],
      'loop',
      /A → B → A/,
    ],
    [
      'a strand that is not there',
      [strand('A', [{ do: 'linear-fit', to: 'Z' }])],
      'unknown-strand',
      /Strand “Z” not found\. Available: A/,
    ],
    ['a stack that is not there', [strand('A'), strand('Q')], 'missing-stack', /no stack named "Q"; there are A, B/],
    [
      'a mask that is not there',
      [strand('A', [{ do: 'scale', mask: 'gas' }])],
      'unknown-mask',
      /Mask “gas” not found\. This recipe has no masks/,
    ],
    [
      'a colour image where a mono one belongs',
      [
        strand('A', [
          { do: 'tint', colour: '#ffffff' },
          { do: 'tint', colour: '#ffffff' },
        ]),
      ],
      'takes-mono',
      /Tint needs a mono image/,
    ],
    ['a formula that breaks off', [strand('A'), { id: 'F', from: { formula: 'A +' } }], 'formula', /line 1, column 4/],
  ] as [string, Strand[], string, RegExp][])('%s is a fault of that strand alone', (_, strands, code, message) => {
    const graph = graphOf(recipeOf(strands), two);
    expect(graph.faults[0].code).toBe(code);
    expect(graph.faults[0].message).toMatch(message);
    expect(graph.faults[0].path).toMatch(/^strands\[\d\]/);
  });

  it('with a loop through three name all three', () => {
    const strands: Strand[] = ['A', 'B', 'C'].map((id, i) => ({
      id,
      from: i === 0 ? { stack: 'A' } : { strand: 'ABC'[i - 1] },
      steps: i === 0 ? [{ do: 'linear-fit', to: 'C' }] : [],
    }));
    expect(graphOf(recipeOf(strands), two).faults[0].message).toMatch(/A → C → B → A/);
  });

  it('repeated ids, and no size at all, are refused as a whole', () => {
    expect(() => graphOf(recipeOf([strand('A'), strand('A')]), two)).toThrow(
      /The id “A” is used twice \(also at strands\[0\]\)/,
    );
    expect(() => graphOf(recipeOf([], { layers: [{ of: { colour: '#123456' } }] }), two)).toThrow(
      /No strand comes from a stack/,
    );
    expect(() => graphOf({ ...recipeOf([strand('A')]), frame: 'Z' }, two)).toThrow(/strand “Z” not found/i);
  });

  it('keep the strands that are sound', () => {
    const graph = graphOf(recipeOf([strand('A'), strand('Q')], { layers: [{ of: { strand: 'Q' } }] }), two);
    expect(graph.strands.has('A')).toBe(true);
    expect(graph.cloth).toBeUndefined();
  });
});

describe('warnings', () => {
  const warn = (recipe: Recipe, stacks: Record<string, TestStack>) => graphOf(recipe, stacks).warnings;
  const linear = onePixelStack(0.1);
  const stretched = { ...onePixelStack(0.5), domain: 'stretched' as const };

  it('tell of linear and stretched mixed, with the path', () => {
    const recipe = recipeOf([strand('A'), strand('B')], {
      layers: [{ of: { mix: { red: { A: 1 }, green: { B: 1 }, blue: { B: 1 } } } }],
    });
    expect(warn(recipe, { A: linear, B: stretched })[0]).toMatchObject({ path: 'cloth.layers[0].of' });
    expect(warn(recipe, { A: linear, B: linear })).toEqual([]);
  });

  it('tell of a display blend on linear data', () => {
    const recipe = recipeOf([strand('A')], {
      layers: [{ of: { strand: 'A' } }, { of: { strand: 'A' }, blend: 'screen' }],
    });
    expect(warn(recipe, { A: linear })[0]).toMatchObject({ path: 'cloth.layers[1].blend' });
    expect(warn(recipe, { A: stretched })).toEqual([]);
  });

  it('tell of a stretch upon a stretch', () => {
    expect(
      warn(
        recipeOf([
          strand('A', [
            { do: 'stretch', strength: 5 },
            { do: 'stretch', strength: 5 },
          ]),
        ]),
        { A: linear },
      )[0].path,
    ).toBe('strands[0].steps[1]');
  });

  it('tell which stacks are of another size, and what will help', () => {
    const found = warn(recipeOf([strand('A'), strand('B')]), { A: mono(4, 3, () => 1), B: mono(2, 2, () => 1) });
    expect(found[0].path).toBe('strands[1].from');
    expect(found[0].message).toMatch(/B is 2 × 2 px, the frame of A 4 × 3 px.*align.*transform/);
  });
});
