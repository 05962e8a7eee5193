import { windowNeeded } from '../../core/engine/evaluate';
import type { Figure } from '../../core/engine/figures';
import type { Graph } from '../../core/engine/graph';
import { isEmpty, type Rect, union } from '../../core/raster/rect';

/** The nodes in which strands end that are more than a stack as it is. */
export function strandEnds(graph: Graph): ReadonlySet<number> {
  const ends = [...graph.byPath].filter(([path, node]) => /^strands\[\d+\]$/.test(path) && !graph.nodes[node].stack);
  return new Set(ends.map(([, node]) => node));
}

/**
 * The strands on the way to an image, the nearest to it of each line, with the windows of them that it needs.
 * @param ends see {@link strandEnds}
 */
export function strandWindows(
  graph: Graph,
  ends: ReadonlySet<number>,
  node: number,
  rect: Rect,
  level: number,
  figures: ReadonlyMap<string, Figure>,
): Map<number, Rect> {
  const found = new Map<number, Rect>();
  const seen = new Set<string>();
  const walk = (index: number, window: Rect): void => {
    const mark = `${index}:${window.x},${window.y},${window.width},${window.height}`;
    if (seen.has(mark) || isEmpty(window)) return;
    seen.add(mark);
    if (ends.has(index) && index !== node) {
      const before = found.get(index);
      found.set(index, before ? union(before, window) : window);
      return;
    }
    const here = graph.nodes[index];
    here.inputs.forEach((input, i) => walk(input, windowNeeded(here, window, level, i, figures)));
  };
  walk(node, rect);
  return found;
}
