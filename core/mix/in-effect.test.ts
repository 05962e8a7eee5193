import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseRecipe } from '../recipe/parse';
import type { Mix } from '../recipe/schema';
import { graphOf, mono, recipeOf, strand, weave } from '../testing/weave';
import { weightsInEffect, withSwitched } from './in-effect';

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
const pixels = (of: Mix) => weave(recipeOf(strands, { layers: [{ id: 'base', of }] }), stacks).raster.planes;

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
    expect(pixels(withSwitched(full, 'strands', 'B'))).toEqual(
      pixels({ ...plain, mix: { red, green: { C: -0.2 }, blue: { C: 2 } } }),
    );
    const noGreen = pixels(withSwitched(full, 'columns', 'green'));
    expect(noGreen[1].every((v) => v === 0)).toBe(true);
    expect([noGreen[0], noGreen[2]]).toEqual([pixels(full)[0], pixels(full)[2]]);
  });

  it('keeps its numbers, and comes back by the same press, in whatever order', () => {
    fc.assert(
      fc.property(mixes, fc.uniqueArray(switches, { selector: ({ name }) => name }), (mix, list) => {
        const off = list.reduce((next, { what, name }) => withSwitched(next, what, name), mix);
        expect(off.mix).toEqual(mix.mix);
        for (const { what, name } of list) {
          const left = weightsInEffect(off);
          if (what === 'columns') expect(left).not.toHaveProperty(name);
          else for (const weights of Object.values(left)) expect(weights).not.toHaveProperty(name);
        }
        expect([...list].reverse().reduce((next, { what, name }) => withSwitched(next, what, name), off)).toEqual(mix);
      }),
    );
  });

  it('is read from a recipe, and a luminance goes like any column', () => {
    const of = { ...full, mix: { ...full.mix, luminance: { A: 1 } } };
    expect(pixels(withSwitched(of, 'columns', 'luminance'))).toEqual(pixels(full));
    const recipe = recipeOf(strands, { layers: [{ id: 'base', of: withSwitched(full, 'strands', 'B') }] });
    expect(parseRecipe(recipe)).toEqual(recipe);
  });

  it('is said where nothing is left, and where there is no such strand in it', () => {
    const faultOf = (of: Mix) => graphOf(recipeOf(strands, { layers: [{ id: 'base', of }] }), stacks).faults[0];
    const none = ['red', 'green', 'blue'].reduce((mix, name) => withSwitched(mix, 'columns', name), full);
    expect(faultOf({ ...none, mix: { red: {}, green: {}, blue: {} }, gain: undefined })?.message).toContain(
      'no weights',
    );
    expect(faultOf({ ...full, off: { strands: ['A', 'B', 'C'] } })?.message).toContain(
      'switch a strand or a column on',
    );
    expect(faultOf({ ...full, off: { strands: ['D'] } })).toMatchObject({ path: 'cloth.layers[0].of.off.strands' });
  });
});
