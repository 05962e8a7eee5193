import { type PointerEvent, useRef } from 'react';
import { matrix, type Viewport, type ViewSize } from '../../image-view/viewport';
import { endGesture } from '../../document/edit';

/** What is being pulled, as it was when it was taken hold of, and where the pointer was then. */
interface Pull<T> {
  readonly from: T;
  readonly px: number;
  readonly py: number;
}

/**
 * Things on the picture that are pulled about: gives the handlers of one that can be taken hold of. A pull counts as one change.
 * @param onPull told what was taken hold of, and how far it has been pulled since, in frame pixels
 */
export function useDragHandle<T>(
  viewport: Viewport,
  pane: ViewSize,
  onPull: (from: T, dx: number, dy: number) => void,
): (from: T) => {
  readonly onPointerDown: (event: PointerEvent) => void;
  readonly onPointerMove: (event: PointerEvent) => void;
  readonly onPointerUp: (event: PointerEvent) => void;
} {
  const pull = useRef<Pull<T>>(undefined);
  const [a, b, c, d] = matrix(viewport, pane);
  const det = a * d - b * c;
  return (from) => ({
    onPointerDown: (event) => {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      pull.current = { from, px: event.clientX, py: event.clientY };
    },
    onPointerMove: (event) => {
      const { current } = pull;
      if (!current) return;
      event.stopPropagation();
      const [u, v] = [event.clientX - current.px, event.clientY - current.py];
      onPull(current.from, (d * u - c * v) / det, (a * v - b * u) / det);
    },
    onPointerUp: (event) => {
      event.stopPropagation();
      pull.current = undefined;
      endGesture();
    },
  });
}
