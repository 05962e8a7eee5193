import { FIGURE_KINDS, type Figure, type FigureSpec } from '../figures/index';
import { type Rect, sameRect } from '../raster/rect';
import type { Tallies } from './evaluate';
import { figureKey, figuresOf, type Graph, type GraphNode, measuredRect, type Notice } from './graph';
import { inputsFirst } from './inputs-first';
import type { Counted } from './kernel';

/** A figure that must be known, with its key. */
export interface PlannedFigure {
  readonly spec: FigureSpec;
  readonly key: string;
}

/** The key of a figure in a graph. */
export const keyIn = (graph: Graph, spec: FigureSpec): string => figureKey(spec, graph.nodes, graph.frame);

/** A figure of a graph with its key. */
export const planned = (graph: Graph, spec: FigureSpec): PlannedFigure => ({ spec, key: keyIn(graph, spec) });

/** The figures that the nodes of a graph depend on, as far as they have been asked for. */
const dependencies = new WeakMap<Graph, Map<number, readonly PlannedFigure[]>>();

/** The figures that a node's pixels depend on, each once: those of its inputs, then its own. */
export function figuresFor(graph: Graph, node: number): readonly PlannedFigure[] {
  const known = dependencies.get(graph) ?? new Map<number, readonly PlannedFigure[]>();
  dependencies.set(graph, known);
  const unknown = inputsFirst(
    [node],
    (index) => index,
    (index) => (known.has(index) ? [] : graph.nodes[index].inputs),
  );
  for (const index of unknown) {
    if (known.has(index)) continue;
    const { inputs, figures, figureKeys } = graph.nodes[index];
    const own = figures.map((spec, i) => ({ spec, key: figureKeys[i] }));
    const before = [...new Set(inputs)].map((input) => known.get(input) ?? []);
    const [alone = []] = before;
    // Most images have one input and no figures of their own: then the list is the same.
    if (before.length < 2 && own.length === 0) known.set(index, alone);
    else known.set(index, [...new Map([...before.flat(), ...own].map((item) => [item.key, item])).values()]);
  }
  return known.get(node) ?? [];
}

/** How a figure is come by: from whole images and the figures that it stands on, or from the figure of an image of which it is `a + b·x`. */
export type Way =
  | {
      readonly by: 'measuring';
      readonly images: readonly { readonly node: number; readonly rect: Rect }[];
      readonly on: readonly PlannedFigure[];
    }
  | Carrying;

/** A way that needs no pixels. */
export interface Carrying {
  readonly by: 'carrying';
  readonly node: number;
  /** The first is carried over by lines, the others are those of the node that carries it; or those that are gathered. */
  readonly on: readonly PlannedFigure[];
  /** Where stars are gathered: which input each of the figures is of. */
  readonly gathered?: readonly number[];
}

/** The way by measuring, which every figure has. */
export function measuringWay(graph: Graph, spec: FigureSpec): Way & { by: 'measuring' } {
  const kind = FIGURE_KINDS[spec.kind];
  const looked = kind.looksAt?.(spec) ?? spec.nodes.map((_, i) => i);
  const images = looked.map((i) => {
    const node = spec.nodes[i];
    return { node, rect: measuredRect(spec.kind, graph.nodes[node], graph.frame) };
  });
  return { by: 'measuring', images, on: (kind.standsOn?.(spec) ?? []).map((under) => planned(graph, under)) };
}

/** The inputs whose stars a node shows, where they need not be found anew: all of them lie as it does. */
function starInputs(graph: Graph, { kernel, inputs, extent }: GraphNode): number[] | undefined {
  const read = [...new Set(kernel?.stars?.map(({ input }) => input))];
  return read.length > 0 && read.every((i) => sameRect(graph.nodes[inputs[i]].extent, extent)) ? read : undefined;
}

/** The cheaper way to a figure, where it has two. */
export function wayTo(graph: Graph, spec: FigureSpec): Way {
  const { carry, gather, place } = FIGURE_KINDS[spec.kind];
  const [index] = spec.nodes;
  const node = graph.nodes[index];
  const read = gather && spec.nodes.length === 1 ? starInputs(graph, node) : undefined;
  if (read) {
    const on = read.map((input) => planned(graph, { ...spec, nodes: [node.inputs[input]] } as FigureSpec));
    const own = node.kernel?.softens ? node.figures.map((figure) => planned(graph, figure)) : [];
    return { by: 'carrying', node: index, gathered: read, on: [...on, ...own] };
  }
  const input = spec.nodes.length === 1 && node.inputs.length === 1 ? graph.nodes[node.inputs[0]] : undefined;
  if (!carry || !node.kernel?.lines || !input) return measuringWay(graph, spec);
  if (place === 'own' && !sameRect(input.extent, node.extent)) return measuringWay(graph, spec);
  const from = planned(graph, { ...spec, nodes: [input.node] } as FigureSpec);
  return { by: 'carrying', node: index, on: [from, ...node.figures.map((own) => planned(graph, own))] };
}

/** The figure that comes without pixels; undefined where these lines do not allow it. */
export function carriedFigure(graph: Graph, way: Carrying, known: ReadonlyMap<string, Figure>): Figure | undefined {
  const node = graph.nodes[way.node];
  const { kernel } = node;
  const under = way.on.map(({ key }) => known.get(key));
  const [figure] = under;
  if (!figure) throw new Error('a figure is carried over before it is known');
  const kind = FIGURE_KINDS[figure.kind];
  if (way.gathered)
    return (
      kernel?.stars &&
      kind.gather?.(
        new Map(way.gathered.map((input, i) => [input, under[i]])),
        kernel.stars,
        kernel.softens?.(figuresOf(node, known)),
      )
    );
  return kernel?.lines && kind.carry?.(figure, kernel.lines(figuresOf(node, known)));
}

/** What must be known before a figure can be come by on a way: the figures that it stands on, and those of the images that it looks at. */
export function figuresUnder(graph: Graph, way: Way): PlannedFigure[] {
  const behind = way.by === 'measuring' ? way.images.flatMap(({ node }) => figuresFor(graph, node)) : [];
  return [...new Map([...behind, ...way.on].map((item) => [item.key, item])).values()];
}

/** These figures with all that lies under them, in an order in which each can be come by when its turn comes. */
export const withUnder = (graph: Graph, items: readonly PlannedFigure[]): readonly PlannedFigure[] =>
  inputsFirst(
    items,
    ({ key }) => key,
    ({ spec }) => figuresUnder(graph, wayTo(graph, spec)),
  );

/**
 * These figures with those of the images that they look at: what a page needs to guess them anew while something moves. What they stand on
 * besides, such as long lists of stars, is left out.
 */
export function withBehind(graph: Graph, items: readonly PlannedFigure[]): PlannedFigure[] {
  const found = new Map(items.map((item) => [item.key, item]));
  // What is put in on the way is come by in its turn.
  for (const { spec } of found.values())
    for (const node of spec.nodes)
      for (const behind of figuresFor(graph, node)) if (!found.has(behind.key)) found.set(behind.key, behind);
  return [...found.values()];
}

/** A figure of an image that is wanted for people to look at, not for any pixel. */
export interface Wanted {
  readonly figure: 'tone' | 'counts' | 'continuum' | 'marks' | 'ends';
  /** Path of the image in the recipe; of `ends`, which are those of all that the cloth is made of, the cloth's. */
  readonly path: string;
}

/** The figure that tells where one of the cloth's parts ends. */
export const endsSpec = (node: number): FigureSpec => ({ kind: 'ends', nodes: [node] });

/** What to measure for a wanted figure; nothing where the path names no image that can be made. */
export function wantedSpecs(graph: Graph, { figure, path }: Wanted): FigureSpec[] {
  const node = graph.byPath.get(path);
  if (node === undefined) return [];
  if (figure === 'ends') return graph.parts.map((part) => endsSpec(part.node));
  // A continuum whose k is given by hand is measured all the same, so that one sees how far the hand is off.
  if (figure === 'continuum') {
    const [line, broad] = graph.nodes[node].inputs.map((input) => graph.withStars.get(input) ?? input);
    return broad === undefined ? [] : [{ kind: 'continuum', nodes: [line, broad], method: 'stars' }];
  }
  if (figure === 'counts') return [{ kind: 'counts', nodes: [node], stretched: graph.nodes[node].domain !== 'linear' }];
  return [{ kind: figure, nodes: [node] }];
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
