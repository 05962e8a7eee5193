import { describe, expect, it } from 'vitest';
import type { Layer } from '@owl-loom/recipe/schema';
import { graphOf, mono, recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';

const stacks = {
  A: mono(40, 30, (x, y) => 0.1 + 0.001 * x + 0.002 * y),
  B: mono(40, 30, (x) => (x < 3 ? Number.NaN : 0.2)),
  C: mono(36, 30, () => 0.3),
};
const cloth = (layers: Layer[], extent?: 'common') => ({ layers, ...(extent && { extent }) });
const base: Layer = { id: 'base', of: { mix: { red: { A: 1 }, green: { A: 1 }, blue: { B: 1 } } } };
const moved: Layer = { id: 'moved', of: { strand: 'A' }, steps: [{ do: 'place', dx: 5, dy: -2 }], blend: 'lighten' };
const strands = [strand('A'), strand('B'), strand('C')];
const partsOf = (layers: Layer[]) =>
  graphOf(recipeOf(strands, cloth(layers)), stacks).coverageParts.map(({ path }) => path);

describe('what may end before the frame does', () => {
  it('is every strand in use, and a visible layer that was moved', () => {
    expect(partsOf([base])).toEqual(['strands[0]', 'strands[1]']);
    expect(partsOf([base, moved])).toEqual(['strands[0]', 'strands[1]', 'cloth.layers[1]']);
    expect(partsOf([base, { ...moved, visible: false }])).toEqual(['strands[0]', 'strands[1]']);
    expect(partsOf([base, { ...moved, steps: [{ do: 'place', dx: 5, off: true }] }])).toEqual([
      'strands[0]',
      'strands[1]',
    ]);
    expect(partsOf([base, { id: 'c', of: { strand: 'C' } }])).toContain('strands[2]');
  });

  it('is what the common extent is cut to, a layer in a small cloth too', () => {
    const commonOf = (layers: Layer[]) => {
      const { figures, graph } = evaluateRecipe(recipeOf(strands, cloth(layers, 'common')), stacks);
      const spec = graph.commonAreaSpec;
      if (!spec) throw new Error('no common extent');
      // The cloth's own rectangle is measured where it is written; here by the same measurement.
      expect(figures.size).toBe(0);
      return spec.nodes.length;
    };
    expect(commonOf([base])).toBe(2);
    expect(commonOf([base, moved])).toBe(3);
    expect(commonOf([base, { id: 'room', of: { layers: [{ id: 'low', of: { strand: 'B' } }, moved] } }])).toBe(3);
  });
});
