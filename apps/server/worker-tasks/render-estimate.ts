import { LRUCache } from 'lru-cache';
import { Evaluator } from '@owl-loom/engine/evaluator';
import { type EstimatorHost, MeasurementEstimator } from '@owl-loom/engine/estimator';
import { measurementsRequiredBy } from '@owl-loom/engine/measurement-plan';
import { MEASUREMENT_KINDS, type Measurement } from '@owl-loom/engine/measurements/index';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { openGraph, type GraphInput, readSourceRois } from './graph-input';
import { type SharedMeasurement, receiveMeasurement } from './shared-measurement';

/** Pixels of the level from which a sketch's measurements are estimated: enough for a fit and a sky that no eye tells from those of full size. */
const GUESS_PIXELS = 200_000;

/** What few pixels tell while a hand moves is told from so many times as many here. */
const FINER = 4;

/** Guesses by key, which names all that they hang on: palettes on the same stacks have many in common. */
const guesses = new LRUCache<string, Measurement>({ max: 500 });

/** A picture of a coarse level to be made from that level of the stacks alone. */
export interface SketchTask {
  readonly scene: GraphInput;
  /** Measurements that are known already; the others are estimated from a coarse level. */
  readonly figures: readonly SharedMeasurement[];
  readonly node: number;
  readonly rect: Rect;
  readonly level: number;
  /** Shared planes that lie at `rect`. */
  readonly out: readonly Float32Array[];
}

/** Makes a sketch into shared memory. */
export async function renderFromEstimates({ scene, figures, node, rect, level, out }: SketchTask): Promise<null> {
  const { graph } = openGraph(scene);
  const known = new Map<string, Measurement>(figures.map((figure) => [figure.key, receiveMeasurement(figure)]));
  const image = async (
    index: number,
    window: Rect,
    at: number,
    by: ReadonlyMap<string, Measurement>,
    into?: Raster,
  ): Promise<Raster> => {
    const evaluator = new Evaluator(graph, by, at);
    const plan = evaluator.plan(index, window);
    return evaluator.run(plan, await readSourceRois(scene, plan.sources, at), undefined, into).raster;
  };
  const place: EstimatorHost = {
    graph,
    pixelsFor: (kind) => Math.min(GUESS_PIXELS, FINER * (MEASUREMENT_KINDS[kind].estimatePixels ?? GUESS_PIXELS)),
    exact: (key) => known.get(key),
    onExact: (key, figure) => void known.set(key, figure),
    placeholder: ({ spec }) => MEASUREMENT_KINDS[spec.kind].placeholder?.(spec, graph.nodes[spec.nodes[0]].planes),
    image,
  };
  const guesser = new MeasurementEstimator(place, guesses);
  const all = await guesser.known(measurementsRequiredBy(graph, node), new Set());
  await image(node, rect, level, all, { rect, planes: [...out] });
  return null;
}
