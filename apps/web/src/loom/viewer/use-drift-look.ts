import { useMemo } from 'react';
import type { DriftView } from '../../../worker/protocol';
import { useAppSelector } from '../../store/store';
import { maskOf } from '../draft/keyboard-navigation';

/** What a drift map shows, and what it leaves out: what one means to change, the mask of what is chosen or a drawn rectangle. */
export function useDriftLook(): DriftView {
  const { recipe, selectedPath: chosen } = useAppSelector((state) => state.draft);
  const { driftOf: kind, region } = useAppSelector((state) => state.view);
  const mask = recipe ? maskOf(recipe, chosen) : undefined;
  return useMemo(
    () => ({ kind, ...(region ? { within: region } : mask !== undefined && { mask }) }),
    [kind, region, mask],
  );
}
