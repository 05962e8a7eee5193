import { intersect, isEmpty, type Rect } from '../../../../core/raster/rect';

/** The rectangle between two places, in whole pixels of the frame; null where it holds hardly any. */
export function drawnRect(a: { x: number; y: number }, b: { x: number; y: number }, frame: Rect): Rect | null {
  const [x, y] = [Math.round(Math.min(a.x, b.x)), Math.round(Math.min(a.y, b.y))];
  const rect = intersect(
    { x, y, width: Math.round(Math.abs(a.x - b.x)) + 1, height: Math.round(Math.abs(a.y - b.y)) + 1 },
    frame,
  );
  return isEmpty(rect) || rect.width * rect.height < 16 ? null : rect;
}

/** What of a rectangle is held: all of it, or a corner. */
export type Grip = 'move' | 'left-foot' | 'right-foot' | 'left-top' | 'right-top';
/** Its corners. */
export const GRIPS = ['left-foot', 'right-foot', 'left-top', 'right-top'] as const;

/** A rectangle with one of its corners, or all of it, moved by a distance in pixels. */
export function pulled({ x, y, width, height }: Rect, grip: Grip, dx: number, dy: number): Rect {
  if (grip === 'move') return { x: x + dx, y: y + dy, width, height };
  const right = grip.startsWith('right');
  const top = grip.endsWith('top');
  const w = Math.max(1, width + (right ? dx : -dx));
  const h = Math.max(1, height + (top ? dy : -dy));
  return { x: right ? x : x + width - w, y: top ? y : y + height - h, width: w, height: h };
}
