import type { Graph } from '@owl-loom/engine/graph';
import {
  cheapestPlan,
  type KeyedMeasurement,
  type MeasurementPlan,
  prerequisitesOf,
} from '@owl-loom/engine/measurement-plan';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { MeasurementStore } from './run-options';

/** A measurement that is still to be come by, and the way to it. */
export interface MeasurementTask extends KeyedMeasurement {
  readonly way: MeasurementPlan;
  /** How many tasks wait for this one, one after another: those at the head of the longest line go first. */
  priority: number;
  /** Set where it turned out that the way does not lead there. */
  notPropagatable?: boolean;
}

/**
 * Gives tasks their priorities: whatever one depends on is above it.
 * @param tasks by key
 * @param under keys of the measurements that a task depends on; those that are no tasks are known already
 */
export function assignPriorities<E extends { priority: number }>(
  tasks: ReadonlyMap<string, E>,
  under: (task: E) => readonly string[],
): void {
  const above = (task: E): void => {
    for (const key of under(task)) {
      const needed = tasks.get(key);
      if (!needed || needed.priority > task.priority) continue;
      needed.priority = task.priority + 1;
      above(needed);
    }
  };
  for (const task of tasks.values()) above(task);
}

/**
 * Tasks for what is neither known nor stored, and for all that those depend on.
 * @param known measurements by key; what is found in the store is added
 */
export async function planTasks(
  graph: Graph,
  wanted: readonly KeyedMeasurement[],
  known: Map<string, Measurement>,
  store?: MeasurementStore,
): Promise<Map<string, MeasurementTask>> {
  const tasks = new Map<string, MeasurementTask>();
  const look = async ({ spec, key }: KeyedMeasurement): Promise<void> => {
    if (known.has(key) || tasks.has(key)) return;
    const stored = await store?.get(key);
    if (stored) {
      known.set(key, stored);
      return;
    }
    const way = cheapestPlan(graph, spec);
    tasks.set(key, { spec, key, way, priority: 0 });
    for (const under of prerequisitesOf(graph, way)) await look(under);
  };
  for (const item of wanted) await look(item);
  assignPriorities(tasks, ({ way }) => prerequisitesOf(graph, way).map(({ key }) => key));
  return tasks;
}
