import type { Measurement } from './measurements/index';
import type { Raster } from '@owl-loom/image/raster/raster';
import { isEmpty, type Rect, union } from '@owl-loom/image/geometry/rect';
import { measurementsOf, type Graph, type GraphNode } from './graph';

/** A window of a stack's plane that must be fetched before an image can be computed. */
export interface SourceRoi {
  readonly stack: string;
  readonly plane: number;
  readonly rect: Rect;
}

/** What must be made of each node for a window of the last one. */
export interface RoiPlan {
  readonly node: number;
  readonly rect: Rect;
  /** The union of the windows that are asked of each node, inputs before those that read them; none where it would be empty. */
  readonly windows: ReadonlyMap<number, Rect>;
  readonly sources: readonly SourceRoi[];
}

/** The window of its i-th input that a node needs for a window of its own. */
export const inputRoiOf = (
  node: GraphNode,
  window: Rect,
  level: number,
  i: number,
  figures: ReadonlyMap<string, Measurement>,
): Rect => node.kernel?.inputRoi?.(window, level, i, measurementsOf(node, figures)) ?? window;

/**
 * One sweep from a node back to the stacks: each node on the way is asked for the union of what its readers need, whatever their number.
 * @param given images that are there already: nothing before them is asked for
 */
export function planRois(
  graph: Graph,
  figures: ReadonlyMap<string, Measurement>,
  level: number,
  node: number,
  rect: Rect,
  given: ReadonlyMap<number, Raster>,
): RoiPlan {
  const asked = new Map<number, Rect>([[node, rect]]);
  const sources: SourceRoi[] = [];
  // Inputs come before their readers in the list of nodes, so that every reader is seen before what it reads.
  for (let index = node; index >= 0; index--) {
    const window = asked.get(index);
    if (!window || isEmpty(window) || given.has(index)) continue;
    const here = graph.nodes[index];
    if (here.stack)
      for (const plane of here.stack.planes) sources.push({ stack: here.stack.name, plane, rect: window });
    here.inputs.forEach((input, i) => {
      const before = asked.get(input);
      const needed = inputRoiOf(here, window, level, i, figures);
      asked.set(input, before ? union(before, needed) : needed);
    });
  }
  const order = [...asked.keys()].sort((a, b) => a - b).filter((index) => !isEmpty(asked.get(index) ?? rect));
  return {
    node,
    rect,
    windows: new Map(order.map((index) => [index, asked.get(index) ?? rect])),
    sources: joined(sources),
  };
}

/** Two nodes may read one plane of a stack: it is fetched once, as wide as both need it. */
function joined(needs: readonly SourceRoi[]): SourceRoi[] {
  const found = new Map<string, SourceRoi>();
  for (const need of needs) {
    const key = `${need.plane} ${need.stack}`;
    const before = found.get(key);
    found.set(key, before ? { ...need, rect: union(before.rect, need.rect) } : need);
  }
  return [...found.values()];
}
