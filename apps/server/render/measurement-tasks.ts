import type { KeyedMeasurement, MeasurementPlan } from '@owl-loom/engine/measurement-plan';

/** A figure that is still to be come by, and the way to it. */
export interface MeasurementTask extends KeyedMeasurement {
  readonly way: MeasurementPlan;
  /** How many errands wait for this one, one after another: those at the head of the longest line go first. */
  priority: number;
  /** Set where it turned out that the way does not lead there. */
  notPropagatable?: boolean;
}

/**
 * Ranks errands: whatever one stands on is above it.
 * @param errands by key
 * @param under keys of the figures that an errand stands on; those that are no errands are known already
 */
export function assignPriorities<E extends { priority: number }>(
  errands: ReadonlyMap<string, E>,
  under: (errand: E) => readonly string[],
): void {
  const above = (errand: E): void => {
    for (const key of under(errand)) {
      const needed = errands.get(key);
      if (!needed || needed.priority > errand.priority) continue;
      needed.priority = errand.priority + 1;
      above(needed);
    }
  };
  for (const errand of errands.values()) above(errand);
}
