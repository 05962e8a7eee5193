import { type Figure, type FigureSpec, OWN_PLACE } from './figures';
import type { Rect } from '../raster/rect';
import type { Counted } from '../steps/kind';
import type { Tallies } from './evaluate';
import { type Graph, type Notice, figureKey } from './graph';

/** A figure that must be measured, with its key. */
export interface PlannedFigure {
  readonly spec: FigureSpec;
  readonly key: string;
}

/** The key of a figure in a graph. */
export const keyIn = (graph: Graph, spec: FigureSpec): string => figureKey(spec, (node) => graph.nodes[node].hash);

/**
 * Where an image is measured: on the frame; on its own place where it is still to be brought onto the frame.
 * @param i which of the figure's images
 */
export const measuredRect = (graph: Graph, spec: FigureSpec, i: number): Rect =>
  OWN_PLACE.has(spec.kind) ? graph.nodes[spec.nodes[i]].extent : graph.frame;

/** The figures that a node's pixels depend on, in an order in which each can be measured when its turn comes. */
export function figuresFor(graph: Graph, node: number): PlannedFigure[] {
  const planned: PlannedFigure[] = [];
  const keys = new Set<string>();
  const seen = new Set<number>();
  const visit = (index: number): void => {
    if (seen.has(index)) return;
    seen.add(index);
    const here = graph.nodes[index];
    here.inputs.forEach(visit);
    here.figures.forEach((spec, i) => {
      spec.nodes.forEach(visit);
      const key = here.figureKeys[i];
      if (!keys.has(key)) planned.push({ spec, key });
      keys.add(key);
    });
  };
  visit(node);
  return planned;
}

/** A figure of an image that is wanted for people to look at, not for any pixel. */
export interface Wanted {
  readonly figure: 'tone' | 'counts' | 'continuum' | 'stars';
  /** Path of the image in the recipe. */
  readonly path: string;
}

/** What to measure for a wanted figure; undefined where the path names no image that can be made. */
export function wantedSpec(graph: Graph, { figure, path }: Wanted): FigureSpec | undefined {
  const node = graph.byPath.get(path);
  if (node === undefined) return undefined;
  // A continuum whose k is given by hand is measured all the same, so that one sees how far the hand is off.
  if (figure === 'continuum') {
    const [line, broad] = graph.nodes[node].inputs;
    return broad === undefined ? undefined : { kind: 'continuum', nodes: [line, broad], method: 'stars' };
  }
  if (figure === 'stars') return { kind: 'stars', nodes: [node] };
  return figure === 'counts'
    ? { kind: 'counts', nodes: [node], stretched: graph.nodes[node].domain !== 'linear' }
    : { kind: 'tone', nodes: [node] };
}

/** The nodes whose pixels a node's depend on, itself among them, inputs first. */
export function nodesFor(graph: Graph, node: number): number[] {
  const order: number[] = [];
  const seen = new Set<number>();
  const visit = (index: number): void => {
    if (seen.has(index)) return;
    seen.add(index);
    graph.nodes[index].inputs.forEach(visit);
    order.push(index);
  };
  visit(node);
  return order;
}

/** What was measured for a picture, by path. */
export function measuredOf(
  graph: Graph,
  nodes: readonly number[],
  figures: ReadonlyMap<string, Figure>,
): Record<string, unknown> {
  const measured: Record<string, unknown> = {};
  for (const index of nodes) {
    const node = graph.nodes[index];
    if (!node.kernel?.describe) continue;
    const here = node.figureKeys.map((key) => figures.get(key));
    if (here.every((figure): figure is Figure => figure !== undefined))
      measured[node.path] = node.kernel.describe(here);
  }
  return measured;
}

const COUNTED: Record<Counted, (share: string) => string> = {
  'partly-covered': (share) =>
    `${share} of the picture is covered by only some of these strands; there the rest are left out.`,
  'no-answer': (share) =>
    `in ${share} of the picture this formula has no answer (a root or logarithm of a negative number, a division by zero); 0 is taken there.`,
};

/** Warnings that only the pixels can tell. */
export function countedWarnings(graph: Graph, tallies: Tallies): Notice[] {
  const total = graph.frame.width * graph.frame.height;
  return [...tallies].flatMap(([node, counts]) =>
    (Object.entries(counts) as [Counted, number][]).map(([what, pixels]) => ({
      path: graph.nodes[node].path,
      message: COUNTED[what](formatShare(Math.min(1, pixels / total))),
    })),
  );
}

function formatShare(share: number): string {
  const percent = share * 100;
  return percent < 0.1 ? 'less than 0.1 %' : `${percent.toFixed(1)} %`;
}
