import type { Rect } from '@owl-loom/image/geometry/rect';
import { turnAndFlip } from '@owl-loom/engine/steps/place';

/** Which part of the picture lies in the window: the full-size pixel in its middle, and screen pixels a full-size pixel. */
export interface Viewport {
  readonly cx: number;
  readonly cy: number;
  readonly zoom: number;
}

/** The window's size in screen pixels, and how the picture is turned on it. */
export interface ViewSize {
  readonly width: number;
  readonly height: number;
  readonly turn: 0 | 90 | 180 | 270;
  readonly flip: 'none' | 'horizontal' | 'vertical' | 'both';
  /** A free turn after both, counter-clockwise as seen. */
  readonly degrees?: number;
}

export const MIN_ZOOM = 1 / 64;
export const MAX_ZOOM = 32;

/** Shows the whole frame with a little room about it. */
export function fitViewport(frame: Rect, window: ViewSize): Viewport {
  const across = window.turn === 90 || window.turn === 270;
  const width = across ? frame.height : frame.width;
  const height = across ? frame.width : frame.height;
  const zoom = Math.min(window.width / width, window.height / height);
  return { cx: frame.x + (frame.width - 1) / 2, cy: frame.y + (frame.height - 1) / 2, zoom };
}

/** Full-size pixel to screen: [a b c d e f] of a canvas transform. Rows run up on the sky, down on the screen. */
export function matrix(view: Viewport, window: ViewSize): [number, number, number, number, number, number] {
  const q = turnAndFlip(window.turn, window.flip);
  const angle = ((window.degrees ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const m = {
    xx: cos * q.xx - sin * q.yx,
    xy: cos * q.xy - sin * q.yy,
    yx: sin * q.xx + cos * q.yx,
    yy: sin * q.xy + cos * q.yy,
  };
  const { zoom } = view;
  const [a, b, c, d] = [m.xx * zoom, -m.yx * zoom, m.xy * zoom, -m.yy * zoom];
  return [a, b, c, d, window.width / 2 - a * view.cx - c * view.cy, window.height / 2 - b * view.cx - d * view.cy];
}

/** Screen to full-size pixel. */
export function toPixel(view: Viewport, window: ViewSize, x: number, y: number): { x: number; y: number } {
  const [a, b, c, d, e, f] = matrix(view, window);
  const det = a * d - b * c;
  return { x: (d * (x - e) - c * (y - f)) / det, y: (a * (y - f) - b * (x - e)) / det };
}

/** The full-size pixels that lie in the window. */
export function visibleRect(view: Viewport, window: ViewSize): Rect {
  const corners = [0, window.width].flatMap((u) => [0, window.height].map((v) => toPixel(view, window, u, v)));
  const [xs, ys] = [corners.map((p) => p.x), corners.map((p) => p.y)];
  const x = Math.floor(Math.min(...xs));
  const y = Math.floor(Math.min(...ys));
  return { x, y, width: Math.ceil(Math.max(...xs)) - x + 1, height: Math.ceil(Math.max(...ys)) - y + 1 };
}

/** Zooms so that the pixel under the pointer stays there. */
export function zoomedAt(view: Viewport, window: ViewSize, x: number, y: number, factor: number): Viewport {
  const zoom = Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, view.zoom * factor));
  const under = toPixel(view, window, x, y);
  const moved = toPixel({ ...view, zoom }, window, x, y);
  return { zoom, cx: view.cx + under.x - moved.x, cy: view.cy + under.y - moved.y };
}
