import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { Graph } from '@owl-loom/engine/graph';
import {
  propagateMeasurement,
  measurementsRequiredBy,
  type KeyedMeasurement,
  withKey,
  type RequestedMeasurement,
  specsFor,
  cheapestPlan,
  withImageMeasurements,
  withPrerequisites,
} from '@owl-loom/engine/measurement-plan';
import { unmeasurable } from '@owl-loom/engine/measurements/failures';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { MeasurementStore } from '../render/run-options';
import { buildGraphInput } from '../render/build-graph-input';
import { measurementStore } from './measurement-store';
import { openStacks } from '../services/stacks';
import type { Services } from '../services/services';

export interface MeasureRequest {
  readonly recipe: Recipe;
  readonly paths: readonly string[];
  readonly also: readonly RequestedMeasurement[];
}

/** The measurements that a request needs. */
export function measurementsForRequest(
  graph: Graph,
  request: Pick<MeasureRequest, 'paths' | 'also'>,
): KeyedMeasurement[] {
  const also = request.also.flatMap((wanted) => specsFor(graph, wanted));
  const nodes = request.paths.flatMap((path) => graph.byPath.get(path) ?? []);
  // The finished cloth shows only what all of its strands cover, where that is asked for.
  const common = graph.commonAreaSpec && request.paths.includes('cloth') ? [graph.commonAreaSpec] : [];
  const own = [...common, ...also].map((spec) => withKey(graph, spec));
  return withImageMeasurements(graph, [...nodes.flatMap((node) => measurementsRequiredBy(graph, node)), ...own]);
}

/** Looks for a measurement that is kept, or that follows by algebra from what is, and adds it to those that are known. */
export async function resolveKnown(
  graph: Graph,
  { spec, key }: KeyedMeasurement,
  known: Map<string, Measurement>,
  store: MeasurementStore,
): Promise<boolean> {
  if (known.has(key)) return true;
  const kept = await store.get(key);
  if (kept) {
    known.set(key, kept);
    return true;
  }
  const way = cheapestPlan(graph, spec);
  if (way.by !== 'carrying') return false;
  for (const under of way.dependencies) if (!(await resolveKnown(graph, under, known, store))) return false;
  const carried = propagateMeasurement(graph, way, known);
  if (!carried) return false;
  known.set(key, carried);
  await store.set(key, carried);
  return true;
}

/**
 * What is known already of the wanted measurements and what is known to fail, by key, why the pictures of the paths cannot be finished, and whether
 * that is all that can be had.
 */
export async function knownMeasurements(
  services: Services,
  targetId: string,
  request: MeasureRequest,
): Promise<{
  figures: Record<string, Measurement>;
  failed: Record<string, string>;
  obstacle: string | null;
  complete: boolean;
}> {
  const stacks = await openStacks(services, targetId);
  const { graph } = buildGraphInput(request.recipe, stacks);
  const wanted = measurementsForRequest(graph, request);
  const known = new Map<string, Measurement>();
  const store = measurementStore(services.data);
  for (const item of wanted) await resolveKnown(graph, item, known, store);
  const isLost = unmeasurable(graph, services.unmeasurable);
  const figures: Record<string, Measurement> = {};
  const failuresOf = (items: readonly KeyedMeasurement[]): [string, string][] =>
    withPrerequisites(graph, items).flatMap(({ key }) => {
      const message = services.unmeasurable.get(key);
      return message === undefined ? [] : [[key, message]];
    });
  const failed = Object.fromEntries(failuresOf(wanted));
  const [obstacle] = failuresOf(measurementsForRequest(graph, { ...request, also: [] }));
  for (const { key } of wanted) {
    const figure = known.get(key);
    if (figure) figures[key] = figure;
  }
  return {
    figures,
    failed,
    obstacle: obstacle?.[1] ?? null,
    complete: wanted.every((item) => figures[item.key] !== undefined || isLost(item)),
  };
}
