import { describe, expect, it } from 'vitest';
import { buildGraph } from '../../core/engine/build';
import type { StackInfo } from '../../core/engine/graph';
import { newRaster } from '../../core/raster/raster';
import { recipeOf } from '../../core/testing/weave';
import { StrandCache } from './strand-cache';
import { strandEnds, strandWindows } from './strand-windows';

const rect = { x: 0, y: 0, width: 100, height: 80 };

describe('kept strands', () => {
  it('serve every window inside them, at their own level alone', () => {
    const cache = new StrandCache();
    const raster = newRaster(rect, 1, 3);
    cache.put('a', 1, raster);
    expect(cache.get('a', 1, { x: 10, y: 10, width: 5, height: 70 })).toBe(raster);
    expect(cache.get('a', 1, { x: 10, y: 11, width: 5, height: 70 })).toBeUndefined();
    expect(cache.get('a', 0, rect)).toBeUndefined();
    expect(cache.get('b', 1, rect)).toBeUndefined();
    cache.clear();
    expect(cache.get('a', 1, rect)).toBeUndefined();
  });

  it('are let go when they grow too many, those first that were not read for longest', () => {
    const cache = new StrandCache();
    const large = { x: 0, y: 0, width: 4096, height: 4096 };
    const raster = newRaster(large, 1);
    for (const name of ['a', 'b', 'c']) cache.put(name, 0, raster);
    expect(cache.get('a', 0, rect)).toBe(raster);
    for (const name of ['d', 'e']) cache.put(name, 0, raster);
    expect(['a', 'b', 'c', 'd', 'e'].filter((name) => cache.get(name, 0, rect))).toEqual(['a', 'c', 'd', 'e']);
  });
});

describe('the strands on the way to an image', () => {
  const stacks = new Map(
    ['A', 'B'].map((id): [string, StackInfo] => [id, { id, width: 100, height: 80, planes: 1, domain: 'linear' }]),
  );
  const graph = buildGraph(
    recipeOf(
      [
        { id: 'A', from: { stack: 'A' } },
        { id: 'B', from: { stack: 'B' }, steps: [{ do: 'scale', multiply: 2 }] },
        { id: 'C', from: { formula: 'A + B' }, steps: [{ do: 'blur', radius: 2 }] },
      ],
      {
        layers: [
          {
            id: 'l',
            of: { mix: { red: { C: 1 }, green: { B: 1 }, blue: { A: 1 } } },
            steps: [{ do: 'blur', radius: 3 }],
          },
        ],
      },
    ),
    stacks,
  );
  const at = (path: string): number => graph.byPath.get(path) ?? -1;
  const ends = strandEnds(graph);

  it('are those that are more than a stack', () =>
    expect([...ends].sort()).toEqual([at('strands[1]'), at('strands[2]')].sort()));

  it('are named with all that the image needs of them, and not what lies behind them', () => {
    const window = { x: 40, y: 30, width: 10, height: 10 };
    const found = strandWindows(graph, ends, at('cloth'), window, 0, new Map());
    expect([...found.keys()].sort()).toEqual([at('strands[1]'), at('strands[2]')].sort());
    const reach = found.get(at('strands[2]'));
    // A blur of 3 pixels looks 12 around, and a little more on the grid that it may work on.
    expect(reach && reach.x <= 28 && reach.x + reach.width >= 62).toBe(true);
    // A strand is not on the way to itself; another that it is made of is.
    expect([...strandWindows(graph, ends, at('strands[2]'), window, 0, new Map()).keys()]).toEqual([at('strands[1]')]);
  });
});
