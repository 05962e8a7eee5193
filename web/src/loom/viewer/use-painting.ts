import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Spot } from '../../stage/Stage';
import { useApp } from '../../store/store';
import { setValue } from '../edit';
import { useSession } from '../session';
import { paintedMask, paintOf, type PenSpot, strokeOf, withSpot } from './painting';

/** Whether the space bar is held down, when a drag moves the picture whatever tool is taken up. */
function useSpaceHeld(): RefObject<boolean> {
  const held = useRef(false);
  useEffect(() => {
    const on = (event: KeyboardEvent): void => {
      if (event.key === ' ') held.current = event.type === 'keydown';
    };
    addEventListener('keydown', on);
    addEventListener('keyup', on);
    return () => {
      removeEventListener('keydown', on);
      removeEventListener('keyup', on);
    };
  }, []);
  return held;
}

/** Strokes of the brush on the chosen mask. */
export function usePainting(): {
  /** Whether the brush is taken up over a mask. */
  readonly active: boolean;
  /** The stroke that is being drawn, or waits for the mask to be made anew. */
  readonly way: readonly PenSpot[];
  /** Takes a drag of the brush; false where it is not one. */
  onDrag(event: PointerEvent, at: Spot, phase: 'down' | 'move' | 'up'): boolean;
} {
  const recipe = useApp((state) => state.draft.recipe);
  const chosen = useApp((state) => state.draft.chosen);
  const { tool, brush } = useApp((state) => state.view);
  const { shown } = useSession();
  const panning = useSpaceHeld();
  const [way, setWay] = useState<readonly PenSpot[]>([]);
  // Whatever comes between two renderings of the page belongs to the stroke as well.
  const drawn = useRef<readonly PenSpot[]>(undefined);
  // The stroke stands under the pen until the picture with it is there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new picture ends it
  useEffect(() => {
    if (!drawn.current) setWay([]);
  }, [shown]);
  const mask = tool === 'paint' && recipe ? paintedMask(recipe, chosen) : undefined;

  return {
    active: mask !== undefined,
    way,
    onDrag: (event, at, phase) => {
      if (!recipe || !mask) return false;
      if (phase === 'down' && (event.button !== 0 || event.shiftKey || panning.current)) return false;
      if (phase !== 'down' && !drawn.current) return false;
      if (phase === 'up') {
        // Lifted from the paper, a pen presses no more: where it was last is the end.
        setValue(`${mask.path}.paint`, [...paintOf(recipe, mask), strokeOf(drawn.current ?? [], brush)]);
        drawn.current = undefined;
        return true;
      }
      const spot = { x: at.x, y: at.y, ...(event.pointerType === 'pen' && { pressure: event.pressure }) };
      drawn.current = withSpot(phase === 'down' ? [] : (drawn.current ?? []), spot, brush.radius);
      setWay(drawn.current);
      return true;
    },
  };
}
