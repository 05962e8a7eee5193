import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Wcs } from '@owl-loom/image/fits/wcs';
import type { Domain } from '@owl-loom/image/pixel-function';
import type { ImageInfo, NodeKernel, UnusableWcs } from './node-kernel';
import { MEASUREMENT_KINDS, type Measurement, type MeasurementSpec } from './measurements/index';
import type { Recipe } from '@owl-loom/recipe/schema';
import { contentKey } from '@owl-loom/base/content-hash';
import { inputsFirst } from './topological-order';

/** What the engine knows of an imported file. */
export interface StackInfo {
  /** Hash of the file's contents and of how it is scaled: the same id always means the same pixels. */
  readonly id: string;
  readonly width: number;
  readonly height: number;
  readonly planes: 1 | 3;
  readonly domain: 'linear' | 'stretched';
  /** Seconds. */
  readonly exposure?: number;
  /** Where its file says that it lies on the sky. */
  readonly wcs?: Wcs | UnusableWcs;
}

/** One image in the making: pixels of a stack, or a kernel over other nodes. */
export interface GraphNode extends ImageInfo {
  /** Where in the recipe it stands. */
  readonly path: string;
  readonly kind: string;
  readonly inputs: readonly number[];
  /** Name and planes of the stack, on source nodes. */
  readonly stack?: { readonly name: string; readonly planes: readonly number[] };
  readonly kernel?: NodeKernel;
  readonly measurements: readonly MeasurementSpec[];
  /** Keys of the measurements, in their order. */
  readonly measurementKeys: readonly string[];
  /** The same hash always means the same pixels. */
  readonly hash: string;
}

/** Something that a person should know, and where. */
export interface RecipeDiagnostic {
  readonly path: string;
  readonly message: string;
}

/** A fault that keeps a part of the recipe from being made. */
export interface RecipeError extends RecipeDiagnostic {
  readonly code: string;
}

/** A recipe made ready to compute. */
export interface Graph {
  readonly recipe: Recipe;
  readonly nodes: readonly GraphNode[];
  /** The frame: all pixels are computed on this grid. */
  readonly frame: Rect;
  /** Name of the stack whose grid that is. */
  readonly frameStack: string;
  /** Node of each path: strands, steps, layers, `cloth`. */
  readonly byPath: ReadonlyMap<string, number>;
  /** Node of each strand's end, by id. */
  readonly strands: ReadonlyMap<string, number>;
  /** Node of each layer by itself, by id. */
  readonly layers: ReadonlyMap<string, number>;
  /** The finished cloth; undefined where there is none or it is at fault. */
  readonly cloth?: number;
  /** What the visible cloth is made of that may end before the frame does: strands in use, and layers that were moved. */
  readonly coverageParts: readonly { readonly path: string; readonly node: number }[];
  /** Figure that gives the rectangle of `cloth.extent: common`. */
  readonly commonAreaSpec?: MeasurementSpec;
  /** Nodes on which the stars of others are measured, since a step removed them there. */
  readonly withStars: ReadonlyMap<number, number>;
  readonly warnings: readonly RecipeDiagnostic[];
  readonly faults: readonly RecipeError[];
}

/** A measurement that has not been measured yet stands in the way. */
export class MissingMeasurement extends Error {
  constructor(readonly key: string) {
    super('a figure has not been measured yet');
  }
}

/** The measurements of a node, in their order. */
export function measurementsOf(node: GraphNode, figures: ReadonlyMap<string, Measurement>): Measurement[] {
  return node.measurementKeys.map((key) => {
    const figure = figures.get(key);
    if (!figure) throw new MissingMeasurement(key);
    return figure;
  });
}

/** Where an image is measured: on the frame, or on its own place where it is still to be brought there. */
export const measurementRect = (kind: MeasurementSpec['kind'], node: Pick<GraphNode, 'extent'>, frame: Rect): Rect =>
  MEASUREMENT_KINDS[kind].grid === 'own' ? node.extent : frame;

/** The key of a measurement: everything that it depends on. */
export function measurementKey(spec: MeasurementSpec, nodes: readonly GraphNode[], frame: Rect): string {
  const { nodes: of, ...rest } = spec;
  const images = of.map((n) => [nodes[n].hash, measurementRect(spec.kind, nodes[n], frame)]);
  return contentKey({ ...rest, version: MEASUREMENT_KINDS[spec.kind].version, images });
}

/** The name of an image as a picture of the frame: the same name always means the same pixels in the same place. */
export const frameImageId = (graph: Graph, node: number): string => contentKey([graph.nodes[node].hash, graph.frame]);

/** The one domain of several images, and whether they disagree. Stretched wins: a mixture is no longer linear. */
export function combineDomains(domains: readonly Domain[]): { domain: Domain; mixed: boolean } {
  const linear = domains.includes('linear');
  const stretched = domains.includes('stretched');
  return { domain: stretched ? 'stretched' : linear ? 'linear' : 'either', mixed: linear && stretched };
}

/** The nodes whose pixels a node's depend on, itself among them, inputs first. */
export const dependencyClosure = (nodes: readonly GraphNode[], node: number): readonly number[] =>
  inputsFirst(
    [node],
    (index) => index,
    (index) => nodes[index].inputs,
  );
