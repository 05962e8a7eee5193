import { intersect, isEmpty, type Rect } from '@owl-loom/image/geometry/rect';

/** The rectangle between two places, in whole pixels of the frame; null where it holds hardly any. */
export function rectBetween(a: { x: number; y: number }, b: { x: number; y: number }, frame: Rect): Rect | null {
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
export function resizeRect({ x, y, width, height }: Rect, grip: Grip, dx: number, dy: number): Rect {
  if (grip === 'move') return { x: x + dx, y: y + dy, width, height };
  const right = grip.startsWith('right');
  const top = grip.endsWith('top');
  const w = Math.max(1, width + (right ? dx : -dx));
  const h = Math.max(1, height + (top ? dy : -dy));
  return { x: right ? x : x + width - w, y: top ? y : y + height - h, width: w, height: h };
}

/**
 * The same for a rectangle that stands upright, about its own middle, in a picture turned by degrees: the corners that are not pulled stay where
 * they are seen.
 * @param degrees as the frame's axes see it
 */
export function pulledUpright(rect: Rect, grip: Grip, dx: number, dy: number, degrees: number): Rect {
  if (degrees === 0 || grip === 'move') return resizeRect(rect, grip, Math.round(dx), Math.round(dy));
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  // Along the sides of the rectangle, then back for its middle.
  const next = resizeRect(rect, grip, Math.round(c * dx - s * dy), Math.round(s * dx + c * dy));
  const middle = (of: Rect) => [of.x + of.width / 2, of.y + of.height / 2];
  const [u, v] = [middle(next)[0] - middle(rect)[0], middle(next)[1] - middle(rect)[1]];
  const [mx, my] = [middle(rect)[0] + c * u + s * v, middle(rect)[1] - s * u + c * v];
  return { ...next, x: Math.round(mx - next.width / 2), y: Math.round(my - next.height / 2) };
}
