import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseRecipe } from './parse';
import type { Mix } from './schema';
import { graphOf, mono, onePixelStack, recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { effectOf, isIdle, activeWeights, withAsIs, toggleMixInput } from './mix-weights';

const stacks = {
  A: mono(8, 6, (x) => 0.1 + 0.05 * x),
  B: mono(8, 6, (_, y) => 0.2 + 0.04 * y),
  C: mono(8, 6, (x, y) => 0.01 * (x + y)),
};
const strands = Object.keys(stacks).map((id) => strand(id));
const full: Mix = {
  mix: { red: { A: 1, B: 0.5 }, green: { B: 1, C: -0.2 }, blue: { C: 2 } },
  weights: 'share',
  gain: { B: 1.4 },
};
const pixels = (of: Mix) => evaluateRecipe(recipeOf(strands, { layers: [{ id: 'base', of }] }), stacks).raster.planes;

const weight = fc.double({ min: 0.05, max: 2, noNaN: true });
const column = fc.dictionary(fc.constantFrom('A', 'B', 'C'), weight);
const mixes = fc.record({ red: column, green: column, blue: column }).map((mix): Mix => ({ mix }));
const switches = fc.oneof(
  fc.record({ what: fc.constant<'strands'>('strands'), name: fc.constantFrom('A', 'B', 'C') }),
  fc.record({ what: fc.constant<'columns'>('columns'), name: fc.constantFrom('red', 'green', 'blue') }),
);

describe('what is switched off in a tie-up', () => {
  it('counts as though it were not there', () => {
    const { gain: _, ...plain } = full;
    const { B: _b, ...red } = plain.mix.red ?? {};
    expect(pixels(toggleMixInput(full, 'strands', 'B'))).toEqual(
      pixels({ ...plain, mix: { red, green: { C: -0.2 }, blue: { C: 2 } } }),
    );
    const noGreen = pixels(toggleMixInput(full, 'columns', 'green'));
    expect(noGreen[1].every((v) => v === 0)).toBe(true);
    expect([noGreen[0], noGreen[2]]).toEqual([pixels(full)[0], pixels(full)[2]]);
  });

  it('keeps its numbers, and comes back by the same press, in whatever order', () => {
    fc.assert(
      fc.property(mixes, fc.uniqueArray(switches, { selector: ({ name }) => name }), (mix, list) => {
        const off = list.reduce((next, { what, name }) => toggleMixInput(next, what, name), mix);
        expect(off.mix).toEqual(mix.mix);
        for (const { what, name } of list) {
          const left = activeWeights(off);
          if (what === 'columns') expect(left).not.toHaveProperty(name);
          else for (const weights of Object.values(left)) expect(weights).not.toHaveProperty(name);
        }
        expect([...list].reverse().reduce((next, { what, name }) => toggleMixInput(next, what, name), off)).toEqual(
          mix,
        );
      }),
    );
  });

  it('is read from a recipe, and a luminance goes like any column', () => {
    const of = { ...full, mix: { ...full.mix, luminance: { A: 1 } } };
    expect(pixels(toggleMixInput(of, 'columns', 'luminance'))).toEqual(pixels(full));
    const recipe = recipeOf(strands, { layers: [{ id: 'base', of: toggleMixInput(full, 'strands', 'B') }] });
    expect(parseRecipe(recipe)).toEqual(recipe);
  });

  it('is said where nothing is left, and where there is no such strand in it', () => {
    const faultOf = (of: Mix) => graphOf(recipeOf(strands, { layers: [{ id: 'base', of }] }), stacks).faults[0];
    const none = ['red', 'green', 'blue'].reduce((mix, name) => toggleMixInput(mix, 'columns', name), full);
    expect(faultOf({ ...none, mix: { red: {}, green: {}, blue: {} }, gain: undefined })?.message).toContain(
      'The tie-up is empty',
    );
    expect(faultOf({ ...full, off: { strands: ['A', 'B', 'C'] } })?.message).toContain('Turn a strand or column on');
    expect(faultOf({ ...full, off: { strands: ['D'] } })).toMatchObject({ path: 'cloth.layers[0].of.off.strands' });
  });
});

describe('shared columns', () => {
  const mix: Mix = {
    mix: { red: { A: 0.4 }, green: { A: 1, B: -3 }, blue: { B: 2 } },
    weights: 'share',
    asIs: ['blue'],
  };

  it('show what each weight comes to', () => {
    expect(effectOf(mix, 'red')).toEqual({ A: 1 });
    expect(effectOf(mix, 'green')).toEqual({ A: 0.25, B: -0.75 });
    expect(effectOf(mix, 'blue')).toEqual({ B: 2 });
    expect(effectOf({ ...mix, off: { strands: ['B'] } }, 'green')).toEqual({ A: 1 });
  });

  it('have one weight that changes nothing where it is alone', () => {
    expect(isIdle(mix, 'red', 'A')).toBe(true);
    expect(isIdle(mix, 'green', 'A')).toBe(false);
    expect(isIdle(mix, 'blue', 'B')).toBe(false);
    expect(isIdle({ ...mix, weights: 'as-is' }, 'red', 'A')).toBe(false);
    expect(isIdle({ ...mix, off: { strands: ['B'] } }, 'green', 'A')).toBe(true);
  });

  it('can count as they are one by one, and be shared again', () => {
    const red = withAsIs(mix, 'red', true);
    expect(red.asIs).toEqual(['blue', 'red']);
    expect(withAsIs(withAsIs(red, 'red', false), 'blue', false)).toEqual({ ...mix, asIs: undefined });
    const at = (of: Mix) =>
      evaluateRecipe(recipeOf([strand('A'), strand('B')], { layers: [{ id: 'base', of }] }), {
        A: onePixelStack(0.5),
        B: onePixelStack(0.3),
      }).raster.planes.map(([v]) => v);
    expect(at(mix)[0]).toBeCloseTo(0.5, 6);
    expect(at(red)[0]).toBeCloseTo(0.2, 6);
    expect(at(mix)[1]).toBeCloseTo(0.25 * 0.5 - 0.75 * 0.3, 6);
    expect(at(mix)[2]).toBeCloseTo(0.6, 6);
    const recipe = recipeOf([strand('A'), strand('B')], { layers: [{ id: 'base', of: red }] });
    expect(parseRecipe(recipe)).toEqual(recipe);
  });
});
