import type { Graph } from '@owl-loom/engine/graph';
import { inputRoiOf } from '@owl-loom/engine/roi';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { intersect, isEmpty, type Rect, union } from '@owl-loom/image/geometry/rect';

/** Rows that a step may need beyond a band's own before its input is made whole first: more would be made anew for every band. */
const TALL = 48;

/**
 * The images of which a band would need many more rows than its own: those behind wide kernels and turns. They are to be made whole before
 * the bands.
 * @param rect what is wanted of the node
 * @param rows of a band
 * @param measurements those that the node stands on, by key
 * @param given images that are there already: nothing before them is asked for
 * @returns by node, the part that is needed
 */
export function inputsToMaterialise(
  graph: Graph,
  node: number,
  rect: Rect,
  rows: number,
  figures: ReadonlyMap<string, Measurement>,
  given: ReadonlySet<number>,
): Map<number, Rect> {
  const wanted = new Map<number, Rect>();
  const bands = new Map<number, Rect>([[node, { ...rect, height: Math.min(rows, rect.height) }]]);
  const wholes = new Map<number, Rect>([[node, rect]]);
  const join = (into: Map<number, Rect>, index: number, window: Rect): void => {
    const before = into.get(index);
    into.set(index, before ? union(before, window) : window);
  };
  for (let index = node; index >= 0; index--) {
    const [band, whole] = [bands.get(index), wholes.get(index)];
    if (!band || !whole || wanted.has(index) || given.has(index)) continue;
    const here = graph.nodes[index];
    here.inputs.forEach((input, i) => {
      if (given.has(input)) return;
      const inner = inputRoiOf(here, band, 0, i, figures);
      const all = inputRoiOf(here, whole, 0, i, figures);
      const { extent } = graph.nodes[input];
      if (inner.height > rows + TALL && extent.height > inner.height / 2) {
        const part = intersect(all, extent);
        if (!isEmpty(part)) join(wanted, input, part);
      } else {
        join(bands, input, inner);
        join(wholes, input, all);
      }
    });
  }
  // A reader that needs only its own rows of an image that is made whole for another takes them from there, if they lie in it.
  for (const [input, part] of wanted) {
    const near = wholes.get(input);
    if (near) wanted.set(input, union(part, intersect(near, graph.nodes[input].extent)));
  }
  return wanted;
}
