import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Spot } from '../../image-view/ImageView';
import type { Recipe } from '@owl-loom/recipe/schema';
import { valueAt } from '@owl-loom/recipe/paths';
import { store, useAppSelector, useAppDispatch } from '../../store/store';
import { type Brush, viewChanged } from '../../store/view';
import { setValue } from '../../document/edit';
import { usePicture } from '../../session/session';
import { paintTargetOf, type PenSpot, resized, appendPoint } from './painting';

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

/** A stroke while the pen is on the paper, and after it until a picture shows what was made of it. */
interface Stroke {
  readonly way: readonly PenSpot[];
  /** Where it went, once the pen was lifted. */
  readonly kept?: { readonly path: string; readonly made: unknown };
}

/** Whether the picture has what was drawn; gone again by undo counts as well. */
function isShown({ kept }: Stroke, recipe: Recipe | undefined): boolean {
  if (!kept || !recipe) return false;
  const there = (of: Recipe | null) => {
    const list = of ? valueAt(of, kept.path) : undefined;
    return Array.isArray(list) && list.includes(kept.made);
  };
  return there(recipe) || !there(store.getState().draft.recipe);
}

/** How much the brush grows with a pixel of the wheel's way. */
const WHEEL = 0.0016;
/** Screen pixels that a hand does not mean. */
const GRAIN = 3;

/**
 * Strokes of the brush and shapes on the chosen mask, or over blemishes.
 * @param zoom screen pixels a frame pixel
 */
export function usePainting(zoom: number): {
  /** What a drag draws. */
  readonly shape: Brush['shape'];
  /** Whether the brush is taken up over something that can be painted on. */
  readonly active: boolean;
  /** The stroke that is being drawn, or waits for the mask to be made anew. */
  readonly way: readonly PenSpot[];
  /** Takes a drag of the brush; false where it is not one. */
  onDrag(event: PointerEvent, at: Spot, phase: 'down' | 'move' | 'up'): boolean;
  /** Makes the brush larger or smaller with Alt held; false where the wheel is not meant for it. */
  onWheel(event: WheelEvent): boolean;
} {
  const recipe = useAppSelector((state) => state.draft.recipe);
  const chosen = useAppSelector((state) => state.draft.selectedPath);
  const { tool, brush } = useAppSelector((state) => state.view);
  const { shown } = usePicture();
  const panning = useSpaceHeld();
  const [stroke, setStroke] = useState<Stroke>({ way: [] });
  // Whatever comes between two renderings of the page belongs to the stroke as well.
  const drawn = useRef<readonly PenSpot[]>(undefined);
  const send = useAppDispatch();
  const paper = tool === 'paint' && recipe ? paintTargetOf(recipe, chosen) : undefined;
  const shape = paper?.shapes ? brush.shape : 'stroke';
  // The way of an outline is told as finely as the eye sees it, that of a brush by its size.
  const near = shape === 'stroke' ? brush.radius : GRAIN / zoom;

  return {
    shape,
    active: paper !== undefined,
    onWheel: (event) => {
      if (!paper || !event.altKey) return false;
      send(viewChanged({ brush: resized(brush, Math.exp(-event.deltaY * WHEEL)) }));
      return true;
    },
    way: isShown(stroke, shown?.recipe) ? [] : stroke.way,
    onDrag: (event, at, phase) => {
      if (!recipe || !paper) return false;
      if (phase === 'down' && (event.button !== 0 || event.shiftKey || panning.current)) return false;
      if (phase !== 'down' && !drawn.current) return false;
      if (phase === 'up') {
        // Lifted from the paper, a pen presses no more: where it was last is the end.
        const way = drawn.current ?? [];
        const made = paper.stroke(way, brush, GRAIN / zoom);
        if (made !== undefined) setValue(paper.path, [...paper.strokes, made]);
        setStroke(made === undefined ? { way: [] } : { way, kept: { path: paper.path, made } });
        drawn.current = undefined;
        if (made !== undefined && shape !== 'stroke')
          send(viewChanged({ selectedShape: paper.strokes.length, tool: null }));
        return true;
      }
      const spot = { x: at.x, y: at.y, ...(event.pointerType === 'pen' && { pressure: event.pressure }) };
      drawn.current = appendPoint(phase === 'down' ? [] : (drawn.current ?? []), spot, near);
      setStroke({ way: drawn.current });
      return true;
    },
  };
}
