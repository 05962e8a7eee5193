import { UserError } from '@owl-loom/base/errors';
import { stepTitle } from '@owl-loom/recipe/names';
import type { Graph, RecipeDiagnostic } from '../graph';
import { measurementsRequiredBy, prerequisitesOf, type KeyedMeasurement, cheapestPlan } from '../measurement-plan';

/** Why measurements failed, by their keys: a key holds everything that a measurement depends on, so trying again is no use. */
export type FailedMeasurements = ReadonlyMap<string, string>;

/** Path of the step, strand or layer that asks for a measurement; of one that only people look at, the image that it is of. */
function pathAsking(graph: Graph, { spec, key }: KeyedMeasurement): string {
  const asking =
    graph.nodes.find(({ measurementKeys: figureKeys }) => figureKeys.includes(key)) ??
    graph.nodes.find(({ measurements: figures }) =>
      figures.some((own) => prerequisitesOf(graph, cheapestPlan(graph, own)).some((under) => under.key === key)),
    );
  return (asking ?? graph.nodes[spec.nodes[0]]).path;
}

/** A failure with the strand and step that it belongs to. */
export function failureAt(graph: Graph, item: KeyedMeasurement, error: UserError): UserError {
  if (error.path !== undefined) return error;
  const path = pathAsking(graph, item);
  return new UserError(error.code, error.message, path, stepTitle(graph.recipe, path) || undefined);
}

/** Tells whether a measurement cannot be had, since it failed or depends on one that did. */
export function unmeasurable(graph: Graph, failed: FailedMeasurements): (item: KeyedMeasurement) => boolean {
  const known = new Map<string, boolean>();
  const isLost = (item: KeyedMeasurement): boolean => {
    const before = known.get(item.key);
    if (before !== undefined) return before;
    known.set(item.key, false);
    const lost = failed.has(item.key) || prerequisitesOf(graph, cheapestPlan(graph, item.spec)).some(isLost);
    known.set(item.key, lost);
    return lost;
  };
  return isLost;
}

/** What failed measurements mean for a recipe. */
export interface Unfinished {
  /** The failures, each at the path of its step. */
  readonly failures: readonly RecipeDiagnostic[];
  /** Paths of all images that need one of them. */
  readonly paths: readonly string[];
}

/** The images that cannot be finished, and why. */
export function unfinishedBy(graph: Graph, failed: FailedMeasurements): Unfinished {
  if (failed.size === 0) return { failures: [], paths: [] };
  const isLost = unmeasurable(graph, failed);
  const failures = graph.nodes.flatMap(({ path, measurementKeys: figureKeys }) =>
    figureKeys.flatMap((key) => {
      const message = failed.get(key);
      return message === undefined ? [] : [{ path, message }];
    }),
  );
  const unique = failures.filter(
    (a, i) => failures.findIndex((b) => b.path === a.path && b.message === a.message) === i,
  );
  const paths = [...graph.byPath].flatMap(([path, node]) =>
    measurementsRequiredBy(graph, node).some(isLost) ? [path] : [],
  );
  return { failures: unique, paths };
}
