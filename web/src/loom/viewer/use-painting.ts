import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Spot } from '../../stage/Stage';
import { useApp } from '../../store/store';
import { setValue } from '../edit';
import { useSession } from '../session';
import { paperOf, type PenSpot, withSpot } from './painting';

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

/** A stroke while the pen is on the paper, and after it over the picture that does not show it yet. */
interface Stroke {
  readonly way: readonly PenSpot[];
  readonly on: 'paper' | ReturnType<typeof useSession>['shown'];
}

/** Strokes of the brush on the chosen mask, or over blemishes. */
export function usePainting(): {
  /** Whether the brush is taken up over something that can be painted on. */
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
  const [stroke, setStroke] = useState<Stroke>({ way: [], on: 'paper' });
  // Whatever comes between two renderings of the page belongs to the stroke as well.
  const drawn = useRef<readonly PenSpot[]>(undefined);
  const paper = tool === 'paint' && recipe ? paperOf(recipe, chosen) : undefined;

  return {
    active: paper !== undefined,
    // It stands under the pen until a picture with it is there.
    way: stroke.on === 'paper' || stroke.on === shown ? stroke.way : [],
    onDrag: (event, at, phase) => {
      if (!recipe || !paper) return false;
      if (phase === 'down' && (event.button !== 0 || event.shiftKey || panning.current)) return false;
      if (phase !== 'down' && !drawn.current) return false;
      if (phase === 'up') {
        // Lifted from the paper, a pen presses no more: where it was last is the end.
        setValue(paper.path, [...paper.strokes, paper.stroke(drawn.current ?? [], brush)]);
        setStroke({ way: drawn.current ?? [], on: shown });
        drawn.current = undefined;
        return true;
      }
      const spot = { x: at.x, y: at.y, ...(event.pointerType === 'pen' && { pressure: event.pressure }) };
      drawn.current = withSpot(phase === 'down' ? [] : (drawn.current ?? []), spot, brush.radius);
      setStroke({ way: drawn.current, on: 'paper' });
      return true;
    },
  };
}
