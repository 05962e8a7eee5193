import { useMemo } from 'react';
import type { DriftLook } from '../../../workers/protocol';
import { useApp } from '../../store/store';
import { maskOf } from '../walking';

/** What a drift map shows, and what it leaves out: what one means to change, the mask of what is chosen or a drawn rectangle. */
export function useDriftLook(): DriftLook {
  const { recipe, chosen } = useApp((state) => state.draft);
  const { driftOf: kind, region } = useApp((state) => state.view);
  const mask = recipe ? maskOf(recipe, chosen) : undefined;
  return useMemo(
    () => ({ kind, ...(region ? { within: region } : mask !== undefined && { mask }) }),
    [kind, region, mask],
  );
}
