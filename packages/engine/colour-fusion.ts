import { type ColourOp, applyColourOps } from '@owl-loom/algorithms/colour/hue-ops';
import type { GraphNode } from './graph';
import type { Measurement } from './measurements/index';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import type { NodeKernel } from './node-kernel';

/** A kernel that is nothing but works at colours coded by sRGB, told by its measurements. */
export const colourOpsKernel = (
  worksOf: (figures: readonly Measurement[]) => readonly ColourOp[],
  describe?: NodeKernel['report'],
): NodeKernel => ({
  colourOps: worksOf,
  prepare: (figures) => applyWorks(worksOf(figures)),
  ...(describe && { report: describe }),
});

/** Works at colours as a function of pixels. */
export const applyWorks =
  (works: readonly ColourOp[]): PixelFunction =>
  ([{ planes }], out) =>
    applyColourOps(planes, works, out.planes);

/** A node that is run, and what it reads; the works of nodes before it that are run with it. */
export interface FusedColourNode {
  readonly index: number;
  readonly inputs: readonly number[];
  /** Set where it does more than its own kernel. */
  readonly works?: readonly ColourOp[];
}

/**
 * Nodes that work at colours join the one that reads them, so that colours are taken apart and put together once.
 * @param nodes of one run, inputs first
 * @param isRead whether a node's own pixels are wanted besides
 * @param figuresAt the measured measurements of a node
 */
export function fuseColourOps(
  graph: readonly GraphNode[],
  nodes: readonly number[],
  isRead: (index: number) => boolean,
  figuresAt: (node: GraphNode) => readonly Measurement[],
): FusedColourNode[] {
  const worksAt = (index: number) => graph[index].kernel?.colourOps?.(figuresAt(graph[index]));
  const readers = new Map<number, number>();
  for (const index of nodes) for (const input of graph[index].inputs) readers.set(input, (readers.get(input) ?? 0) + 1);
  const runs = new Map<number, FusedColourNode>();
  for (const index of nodes) {
    const { inputs, kernel } = graph[index];
    const before = kernel?.colourOps && runs.get(inputs[0]);
    const worksBefore = before && (before.works ?? worksAt(before.index));
    if (kernel?.colourOps && worksBefore && !isRead(before.index) && readers.get(before.index) === 1) {
      runs.delete(before.index);
      runs.set(index, { index, inputs: before.inputs, works: [...worksBefore, ...(worksAt(index) ?? [])] });
    } else runs.set(index, { index, inputs });
  }
  return [...runs.values()];
}
