import type { KeyedMeasurement, MeasurementPlan } from '@owl-loom/engine/measurement-plan';

/** A measurement that is still to be come by, and the way to it. */
export interface MeasurementTask extends KeyedMeasurement {
  readonly way: MeasurementPlan;
  /** How many errands wait for this one, one after another: those at the head of the longest line go first. */
  priority: number;
  /** Set where it turned out that the way does not lead there. */
  notPropagatable?: boolean;
}

/**
 * Ranks errands: whatever one stands on is above it.
 * @param tasks by key
 * @param under keys of the measurements that an errand stands on; those that are no errands are known already
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
