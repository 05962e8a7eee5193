import type { PlannedFigure, Way } from '../../core/engine/plan';

/** A figure that is still to be come by, and the way to it. */
export interface Errand extends PlannedFigure {
  readonly way: Way;
  /** How many errands wait for this one, one after another: those at the head of the longest line go first. */
  rank: number;
  /** Set where it turned out that the way does not lead there. */
  refused?: boolean;
}

/**
 * Ranks errands: whatever one stands on is above it.
 * @param errands by key
 * @param under keys of the figures that an errand stands on; those that are no errands are known already
 */
export function lineUp<E extends { rank: number }>(
  errands: ReadonlyMap<string, E>,
  under: (errand: E) => readonly string[],
): void {
  const above = (errand: E): void => {
    for (const key of under(errand)) {
      const needed = errands.get(key);
      if (!needed || needed.rank > errand.rank) continue;
      needed.rank = errand.rank + 1;
      above(needed);
    }
  };
  for (const errand of errands.values()) above(errand);
}
