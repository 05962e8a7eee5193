import { MEASUREMENT_KINDS, type Measurement, type MeasurementSpec } from './measurements/index';
import { type Rect, sameRect } from '@owl-loom/image/geometry/rect';
import type { TallyMap } from './evaluator';
import {
  measurementKey,
  measurementsOf,
  type Graph,
  type GraphNode,
  measurementRect,
  type RecipeDiagnostic,
} from './graph';
import { inputsFirst } from './topological-order';
import type { TallyKind } from '@owl-loom/image/pixel-function';
import { entriesOf } from '@owl-loom/base/typed-keys';

/** A measurement that must be known, with its key. */
export interface KeyedMeasurement {
  readonly spec: MeasurementSpec;
  readonly key: string;
}

/** The key of a measurement in a graph. */
export const measurementKeyIn = (graph: Graph, spec: MeasurementSpec): string =>
  measurementKey(spec, graph.nodes, graph.frame);

/** A measurement of a graph with its key. */
export const withKey = (graph: Graph, spec: MeasurementSpec): KeyedMeasurement => ({
  spec,
  key: measurementKeyIn(graph, spec),
});

/** The measurements that the nodes of a graph depend on, as far as they have been asked for. */
const dependencies = new WeakMap<Graph, Map<number, readonly KeyedMeasurement[]>>();

/** The measurements that a node's pixels depend on, each once: those of its inputs, then its own. */
export function measurementsRequiredBy(graph: Graph, node: number): readonly KeyedMeasurement[] {
  const known = dependencies.get(graph) ?? new Map<number, readonly KeyedMeasurement[]>();
  dependencies.set(graph, known);
  const unknown = inputsFirst(
    [node],
    (index) => index,
    (index) => (known.has(index) ? [] : graph.nodes[index].inputs),
  );
  for (const index of unknown) {
    if (known.has(index)) continue;
    const { inputs, measurements: figures, measurementKeys: figureKeys } = graph.nodes[index];
    const own = figures.map((spec, i) => ({ spec, key: figureKeys[i] }));
    const before = [...new Set(inputs)].map((input) => known.get(input) ?? []);
    const [alone = []] = before;
    // Most images have one input and no measurements of their own: then the list is the same.
    if (before.length < 2 && own.length === 0) known.set(index, alone);
    else known.set(index, [...new Map([...before.flat(), ...own].map((item) => [item.key, item])).values()]);
  }
  return known.get(node) ?? [];
}

/** How a measurement is come by: from whole images and the measurements that it stands on, or from the measurement of an image of which it is `a + b·x`. */
export type MeasurementPlan =
  | {
      readonly by: 'measuring';
      readonly images: readonly { readonly node: number; readonly rect: Rect }[];
      readonly dependencies: readonly KeyedMeasurement[];
    }
  | PropagationPlan;

/** A way that needs no pixels. */
export interface PropagationPlan {
  readonly by: 'carrying';
  readonly node: number;
  /** The first is carried over by lines, the others are those of the node that carries it; or those that are gathered. */
  readonly dependencies: readonly KeyedMeasurement[];
  /** Where stars are gathered: which input each of the measurements is of. */
  readonly inheritedInputs?: readonly number[];
}

/** The way by measuring, which every measurement has. */
export function directPlan(graph: Graph, spec: MeasurementSpec): MeasurementPlan & { by: 'measuring' } {
  const kind = MEASUREMENT_KINDS[spec.kind];
  const looked = kind.pixelInputs?.(spec) ?? spec.nodes.map((_, i) => i);
  const images = looked.map((i) => {
    const node = spec.nodes[i];
    return { node, rect: measurementRect(spec.kind, graph.nodes[node], graph.frame) };
  });
  return {
    by: 'measuring',
    images,
    dependencies: (kind.dependsOn?.(spec) ?? []).map((under) => withKey(graph, under)),
  };
}

/** The inputs whose stars a node shows, where they need not be found anew: all of them lie as it does. */
function starInputs(graph: Graph, { kernel, inputs, extent }: GraphNode): number[] | undefined {
  const read = [...new Set(kernel?.starSources?.map(({ input }) => input))];
  return read.length > 0 && read.every((i) => sameRect(graph.nodes[inputs[i]].extent, extent)) ? read : undefined;
}

/** The cheaper way to a measurement, where it has two. */
export function cheapestPlan(graph: Graph, spec: MeasurementSpec): MeasurementPlan {
  const { propagateLinear: carry, inheritStars: gather, grid: place } = MEASUREMENT_KINDS[spec.kind];
  const [index] = spec.nodes;
  const node = graph.nodes[index];
  const read = gather && spec.nodes.length === 1 ? starInputs(graph, node) : undefined;
  if (read) {
    const on = read.map((input) => withKey(graph, { ...spec, nodes: [node.inputs[input]] } as MeasurementSpec));
    const own = node.kernel?.starBlur ? node.measurements.map((figure) => withKey(graph, figure)) : [];
    return { by: 'carrying', node: index, inheritedInputs: read, dependencies: [...on, ...own] };
  }
  const input = spec.nodes.length === 1 && node.inputs.length === 1 ? graph.nodes[node.inputs[0]] : undefined;
  if (!carry || !node.kernel?.linearMap || !input) return directPlan(graph, spec);
  if (place === 'own' && !sameRect(input.extent, node.extent)) return directPlan(graph, spec);
  const from = withKey(graph, { ...spec, nodes: [input.node] } as MeasurementSpec);
  return { by: 'carrying', node: index, dependencies: [from, ...node.measurements.map((own) => withKey(graph, own))] };
}

/** The measurement that comes without pixels; undefined where these lines do not allow it. */
export function propagateMeasurement(
  graph: Graph,
  way: PropagationPlan,
  known: ReadonlyMap<string, Measurement>,
): Measurement | undefined {
  const node = graph.nodes[way.node];
  const { kernel } = node;
  const under = way.dependencies.map(({ key }) => known.get(key));
  const [figure] = under;
  if (!figure) throw new Error('a figure is carried over before it is known');
  const kind = MEASUREMENT_KINDS[figure.kind];
  if (way.inheritedInputs)
    return (
      kernel?.starSources &&
      kind.inheritStars?.(
        new Map(way.inheritedInputs.map((input, i) => [input, under[i]])),
        kernel.starSources,
        kernel.starBlur?.(measurementsOf(node, known)),
      )
    );
  return kernel?.linearMap && kind.propagateLinear?.(figure, kernel.linearMap(measurementsOf(node, known)));
}

/** What must be known before a measurement can be come by on a way: the measurements that it stands on, and those of the images that it looks at. */
export function prerequisitesOf(graph: Graph, way: MeasurementPlan): KeyedMeasurement[] {
  const behind = way.by === 'measuring' ? way.images.flatMap(({ node }) => measurementsRequiredBy(graph, node)) : [];
  return [...new Map([...behind, ...way.dependencies].map((item) => [item.key, item])).values()];
}

/** These measurements with all that lies under them, in an order in which each can be come by when its turn comes. */
export const withPrerequisites = (graph: Graph, items: readonly KeyedMeasurement[]): readonly KeyedMeasurement[] =>
  inputsFirst(
    items,
    ({ key }) => key,
    ({ spec }) => prerequisitesOf(graph, cheapestPlan(graph, spec)),
  );

/**
 * These measurements with those of the images that they look at: what a page needs to guess them anew while something moves. What they stand on
 * besides, such as long lists of stars, is left out.
 */
export function withImageMeasurements(graph: Graph, items: readonly KeyedMeasurement[]): KeyedMeasurement[] {
  const found = new Map(items.map((item) => [item.key, item]));
  // What is put in on the way is come by in its turn.
  for (const { spec } of found.values())
    for (const node of spec.nodes)
      for (const behind of measurementsRequiredBy(graph, node))
        if (!found.has(behind.key)) found.set(behind.key, behind);
  return [...found.values()];
}

/** Measurements of an image that people look at, beside those that pixels depend on. */
export const REQUESTABLE = ['tone', 'counts', 'continuum', 'marks', 'ends'] as const;

/** A measurement of an image that is wanted for people to look at, not for any pixel. */
export interface RequestedMeasurement {
  readonly figure: (typeof REQUESTABLE)[number];
  /** Path of the image in the recipe; of `ends`, which are those of all that the cloth is made of, the cloth's. */
  readonly path: string;
}

/** The measurement that tells where one of the cloth's parts ends. */
export const marginsSpec = (node: number): MeasurementSpec => ({ kind: 'ends', nodes: [node] });

/** What to measure for a wanted measurement; nothing where the path names no image that can be made. */
export function specsFor(graph: Graph, { figure, path }: RequestedMeasurement): MeasurementSpec[] {
  const node = graph.byPath.get(path);
  if (node === undefined) return [];
  if (figure === 'ends') return graph.coverageParts.map((part) => marginsSpec(part.node));
  // A continuum whose k is given by hand is measured all the same, so that one sees how far the hand is off.
  if (figure === 'continuum') {
    const [line, broad] = graph.nodes[node].inputs.map((input) => graph.withStars.get(input) ?? input);
    return broad === undefined ? [] : [{ kind: 'continuum', nodes: [line, broad], method: 'stars' }];
  }
  if (figure === 'counts') return [{ kind: 'counts', nodes: [node], stretched: graph.nodes[node].domain !== 'linear' }];
  return [{ kind: figure, nodes: [node] }];
}

/** What was measured for a picture, by path. */
export function reportOf(
  graph: Graph,
  nodes: readonly number[],
  figures: ReadonlyMap<string, Measurement>,
): Record<string, unknown> {
  const measured: Record<string, unknown> = {};
  for (const index of nodes) {
    const node = graph.nodes[index];
    if (!node.kernel?.report) continue;
    const here = node.measurementKeys.map((key) => figures.get(key));
    if (here.every((figure): figure is Measurement => figure !== undefined))
      measured[node.path] = node.kernel.report(here);
  }
  return measured;
}

const COUNTED: Record<TallyKind, (share: string) => string> = {
  'partly-covered': (share) =>
    `${share} of the picture is not covered by all strands; only those present are averaged there.`,
  'no-answer': (share) =>
    `The formula is undefined in ${share} of the picture (root or logarithm of a negative number, division by zero); 0 is used there.`,
};

/** Warnings that only the pixels can tell. */
export function tallyWarnings(graph: Graph, tallies: TallyMap): RecipeDiagnostic[] {
  const total = graph.frame.width * graph.frame.height;
  return [...tallies].flatMap(([node, counts]) =>
    entriesOf(counts).map(([what, pixels]) => ({
      path: graph.nodes[node].path,
      message: COUNTED[what](formatShare(Math.min(1, pixels / total))),
    })),
  );
}

function formatShare(share: number): string {
  const percent = share * 100;
  return percent < 0.1 ? 'less than 0.1 %' : `${percent.toFixed(1)} %`;
}
