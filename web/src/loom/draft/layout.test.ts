import { describe, expect, it } from 'vitest';
import type { Recipe } from '../../../../core/recipe/schema';
import { layOut, mixAt } from './layout';

const recipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'R', from: { stack: 'R' }, steps: [{ do: 'crop', x: 0, y: 0, width: 1, height: 1 }, { do: 'scale' }] },
    { id: 'G', from: { stack: 'G' } },
    { id: 'RGB', from: { mix: { red: { R: 1 }, green: { G: 1 } } } },
    { id: 'idle', from: { stack: 'B' } },
  ],
  cloth: {
    layers: [
      { id: 'one', of: { strand: 'RGB' } },
      { id: 'two', of: { mix: { red: { R: 1 } } } },
    ],
    steps: [{ do: 'levels' }],
  },
};

describe('the draft', () => {
  const layout = layOut(recipe, 'cloth');

  it('lays every strand, step, layer and finishing step in a place of its own, left to right', () => {
    expect(layout.rows.map((row) => row.id)).toEqual(['R', 'G', 'RGB', 'idle']);
    expect(new Set(layout.rows.map((row) => row.y)).size).toBe(4);
    const [first, second] = layout.rows[0].beads;
    expect(second.x - first.x).toBeGreaterThanOrEqual(92);
    expect(layout.rows[0].addX).toBeGreaterThan(second.x);
    expect(layout.tieX).toBeGreaterThan(layout.rows[0].addX);
    expect(layout.layersX).toBeGreaterThan(layout.columns[2].x);
    expect(layout.clothX).toBeGreaterThan(layout.layersX + layout.layerWidth);
    expect(layout.width).toBeGreaterThan(layout.clothAddX);
  });

  it('keeps the layers and the cloth in sight of whoever scrolls down a long list of threads', () => {
    const long = { ...recipe, strands: Array.from({ length: 14 }, (_, i) => ({ id: `S${i}`, from: { stack: 'S' } })) };
    const [above, below] = [layOut(long, 'cloth'), layOut(long, 'cloth', 200)];
    expect(below.layers.map(({ y }, i) => y - above.layers[i].y)).toEqual([200, 200]);
    expect(below.clothY - above.clothY).toBe(200);
    expect(below.rows).toEqual(above.rows);
    // Never below what there is to scroll to.
    const end = layOut(long, 'cloth', 5000);
    expect(Math.max(...end.layers.map(({ y }) => y))).toBeLessThan(end.height - 30);
    expect(layOut(recipe, 'cloth', 5000).height).toBe(layout.height);
  });

  it('has the top layer on top', () => {
    const y = (index: number) => layout.layers[index].y;
    expect(y(1)).toBeLessThan(y(0));
  });

  it('knows which strands reach the cloth, those behind a mix too', () => {
    expect(layout.rows.filter((row) => row.used).map((row) => row.id)).toEqual(['R', 'G', 'RGB']);
  });

  it('shows the knots of what is chosen: a layer, a strand, or the first that has any', () => {
    expect(layOut(recipe, 'cloth.layers[1].steps[0]').mix).toBe('cloth.layers[1].of');
    expect(layOut(recipe, 'cloth.layers[0]').mix).toBe('strands[2].from');
    expect(layOut(recipe, 'strands[2]').mix).toBe('strands[2].from');
    expect(layout.mix).toBe('strands[2].from');
    expect(mixAt(recipe, 'cloth.layers[1].of')?.mix.red).toEqual({ R: 1 });
    expect(mixAt(recipe, 'cloth.layers[0].of')).toBeUndefined();
    expect(
      layOut({ ...recipe, strands: recipe.strands.slice(0, 2), cloth: { layers: [] } }, 'cloth').mix,
    ).toBeUndefined();
  });
});
