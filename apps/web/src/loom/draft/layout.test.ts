import { describe, expect, it } from 'vitest';
import type { Recipe } from '@owl-loom/recipe/schema';
import { layoutDraft, mixAt } from './layout';

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
  const room = { width: 1280, height: 200 };
  const layout = layoutDraft(recipe, 'cloth', room);

  it('lays every strand, step, layer and finishing step in a place of its own, left to right', () => {
    expect(layout.rows.map((row) => row.id)).toEqual(['R', 'G', 'RGB', 'idle']);
    expect(new Set(layout.rows.map((row) => row.y)).size).toBe(4);
    const [first, second] = layout.rows[0].beads;
    expect(second.x - first.x).toBeGreaterThanOrEqual(92);
    expect(layout.rows[0].addX).toBeGreaterThan(second.x);
    expect(layout.tieX).toBeGreaterThan(layout.rows[0].addX);
    expect(layout.layersX).toBeGreaterThan(layout.columns[2].x);
    expect(layout.clothX).toBeGreaterThan(layout.layersX + layout.layerWidth);
    expect(layout.width).toBeGreaterThan(layout.clothAdd.x);
  });

  it('fits whatever is in it into its window, and shows what belongs to the chosen place', () => {
    const full: Recipe = {
      ...recipe,
      strands: [
        ...recipe.strands,
        ...Array.from({ length: 8 }, (_, i) => ({
          id: `S${i}`,
          from: i === 7 ? { formula: 'S1 + S2' } : { stack: 'S' },
          steps: [{ do: 'scale' }, { do: 'denoise' }, { do: 'gradient' }, { do: 'scale' }].slice(0, 1 + (i % 4)),
        })),
      ],
      masks: Array.from({ length: 5 }, (_, i) => ({
        id: `m${i}`,
        of: { strand: `S${i}` },
        steps: [{ do: 'stretch' }],
      })),
      cloth: {
        layers: Array.from({ length: 8 }, (_, i) => ({ id: `l${i}`, of: { strand: `S${i}` }, mask: `m${i % 5}` })),
        steps: [{ do: 'levels' }, { do: 'levels' }],
      },
    };
    for (const chosen of [
      'cloth',
      'cloth.layers[7]',
      'strands[11]',
      'masks[4]',
      'cloth.layers[2]',
      'strands[5].steps[1]',
    ]) {
      const seen = layoutDraft(full, chosen, room);
      expect(seen.height, chosen).toBeLessThanOrEqual(room.height);
      expect(seen.width, chosen).toBeLessThanOrEqual(room.width);
      const threads = [...seen.rows, ...seen.masks];
      const open = threads.filter(({ folded }) => !folded).map(({ id }) => id);
      const runs = seen.runs.flatMap(({ paths }) => paths);
      // Each thread stands open or lies in a line, never both.
      expect(open.length + runs.length).toBe(threads.length);
      expect(new Set(threads.filter(({ folded }) => folded).map(({ path }) => path))).toEqual(new Set(runs));
      const own: Record<string, string[]> = {
        'strands[11]': ['S7', 'S1', 'S2'],
        'masks[4]': ['m4', 'S4'],
        'cloth.layers[2]': ['S2', 'm2'],
        'strands[5].steps[1]': ['S1', 'S7', 'm1'],
      };
      expect(open, chosen).toEqual(expect.arrayContaining(own[chosen] ?? []));
    }
    // Where there is room, nothing is folded.
    const tall = layoutDraft(full, 'cloth', { width: 1280, height: layoutDraft(full, 'cloth', room).needs });
    expect(tall.runs).toEqual([]);
  });

  it('keeps the layers and the cloth in sight of whoever scrolls down a long list of threads', () => {
    const small = { width: 1280, height: 60 };
    const long = { ...recipe, strands: Array.from({ length: 14 }, (_, i) => ({ id: `S${i}`, from: { stack: 'S' } })) };
    const [above, below] = [
      layoutDraft(long, 'strands[2]', small),
      layoutDraft(long, 'strands[2]', { ...small, scrolled: 12 }),
    ];
    expect(below.layers.map(({ y }, i) => y - above.layers[i].y)).toEqual([12, 12]);
    expect(below.clothY - above.clothY).toBe(12);
    expect(below.rows).toEqual(above.rows);
    // Never below what there is to scroll to.
    const end = layoutDraft(long, 'strands[2]', { ...small, scrolled: 5000 });
    expect(Math.max(...end.layers.map(({ y }) => y))).toBeLessThan(end.height);
    expect(layoutDraft(recipe, 'cloth', { ...room, scrolled: 5000 }).height).toBe(layout.height);
  });

  it('lets a long finish go on in lines below, each step in a place of its own and in the window', () => {
    const steps = ['levels', 'hue-bands', 'saturation', 'balance', 'cap', 'sharpen', 'floor'].map((kind) => ({
      do: kind,
    }));
    const long = { ...recipe, cloth: { ...recipe.cloth, layers: recipe.cloth?.layers ?? [], steps } };
    const laid = layoutDraft(long, 'cloth', { width: 1280, height: 200 });
    expect(new Set(laid.clothBeads.map(({ y }) => y)).size).toBeGreaterThan(1);
    expect(new Set(laid.clothBeads.map(({ x, y }) => `${x} ${y}`)).size).toBe(steps.length);
    for (const { x, y } of [...laid.clothBeads, laid.clothAdd]) {
      expect(x + laid.beadWidth).toBeLessThanOrEqual(1280);
      expect(y).toBeGreaterThan(20);
      expect(y).toBeLessThan(200 - 12);
      // The threads are drawn as far down as the last line.
      expect(y + 12).toBeLessThanOrEqual(laid.height);
    }
    expect(laid.height).toBeLessThanOrEqual(200);
    // They are read line by line.
    laid.clothBeads.slice(1).forEach((bead, i) => {
      const before = laid.clothBeads[i];
      expect(bead.y > before.y || (bead.y === before.y && bead.x > before.x)).toBe(true);
    });
    expect(laid.width).toBeLessThanOrEqual(1280);
    // A short one stays on one line, and so does a long one in a wide window.
    expect(new Set(layoutDraft(long, 'cloth', { width: 2400, height: 200 }).clothBeads.map(({ y }) => y)).size).toBe(1);
  });

  it('has the top layer on top', () => {
    const y = (index: number) => layout.layers[index].y;
    expect(y(1)).toBeLessThan(y(0));
  });

  it('knows which strands reach the cloth, those behind a mix too', () => {
    expect(layout.rows.filter((row) => row.used).map((row) => row.id)).toEqual(['R', 'G', 'RGB']);
  });

  it('shows the knots of what is chosen: a layer, a strand, or the first that has any', () => {
    expect(layoutDraft(recipe, 'cloth.layers[1].steps[0]', room).mix).toBe('cloth.layers[1].of');
    expect(layoutDraft(recipe, 'cloth.layers[0]', room).mix).toBe('strands[2].from');
    expect(layoutDraft(recipe, 'strands[2]', room).mix).toBe('strands[2].from');
    expect(layout.mix).toBe('strands[2].from');
    expect(mixAt(recipe, 'cloth.layers[1].of')?.mix.red).toEqual({ R: 1 });
    expect(mixAt(recipe, 'cloth.layers[0].of')).toBeUndefined();
    expect(
      layoutDraft({ ...recipe, strands: recipe.strands.slice(0, 2), cloth: { layers: [] } }, 'cloth', room).mix,
    ).toBeUndefined();
  });
});
