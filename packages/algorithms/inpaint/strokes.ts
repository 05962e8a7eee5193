import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { type Rect, union } from '@owl-loom/image/geometry/rect';
import type { Circle } from './harmonic-fill';

/** A stroke over a blemish, in full-size frame pixels. */
export interface MendStroke {
  readonly radius: number;
  readonly points: readonly (readonly [number, number])[];
  /** Where the pixels come from that take the blemish's place, from each of its own; from around where nothing is said. */
  readonly from?: readonly [number, number];
}

/** Circles of a stroke follow each other by this share of its radius. */
const STEP = 0.7;

/** A stroke as circles that follow each other along it. */
export function strokeToCircles({ radius, points }: MendStroke): Circle[] {
  const circles: Circle[] = [];
  points.forEach(([x, y], k) => {
    if (k === 0) {
      circles.push([x, y, radius]);
      return;
    }
    const [px, py] = points[k - 1];
    const steps = Math.max(1, Math.ceil(Math.hypot(x - px, y - py) / Math.max(0.5, STEP * radius)));
    for (let s = 1; s <= steps; s++) circles.push([px + ((x - px) * s) / steps, py + ((y - py) * s) / steps, radius]);
  });
  return circles;
}

/** How far a place lies inside a stroke, 0 outside it to 1 from three tenths of its radius inwards. */
export function strokeWeight(stroke: MendStroke, x: number, y: number): number {
  let nearest = Number.POSITIVE_INFINITY;
  const { points, radius } = stroke;
  points.forEach(([bx, by], k) => {
    const [ax, ay] = points[Math.max(0, k - 1)];
    const [dx, dy] = [bx - ax, by - ay];
    const length2 = dx * dx + dy * dy;
    const t = length2 > 0 ? Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / length2)) : 0;
    nearest = Math.min(nearest, Math.hypot(x - ax - t * dx, y - ay - t * dy));
  });
  return Math.max(0, Math.min(1, (radius - nearest) / (0.3 * radius)));
}

/** The square about a stroke, in pixels of a level. */
function aboutStroke({ radius, points }: MendStroke, level: number): Rect {
  const n = 2 ** level;
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, bottom] = [Math.min(...xs) - radius, Math.min(...ys) - radius].map((v) => Math.floor(v / n) - 1);
  const [right, top] = [Math.max(...xs) + radius, Math.max(...ys) + radius].map((v) => Math.ceil(v / n) + 1);
  return { x: left, y: bottom, width: right - left + 1, height: top - bottom + 1 };
}

/** The window from which strokes that copy can be laid in `rect`. */
export function cloneSourceRect(rect: Rect, strokes: readonly MendStroke[], level: number): Rect {
  return strokes.reduce((needed, { from }) => {
    if (!from) return needed;
    const [dx, dy] = from.map((v) => v / 2 ** level);
    const moved = {
      ...rect,
      x: Math.floor(rect.x + dx),
      y: Math.floor(rect.y + dy),
      width: rect.width + 1,
      height: rect.height + 1,
    };
    return union(needed, moved);
  }, rect);
}

/**
 * Lays a stroke that copies: each pixel from its place and the offset, soft towards the rim. Pixels whose source has no data stay.
 * @param plane pixels of `rect`
 * @param out pixels of `window`, which hold the image already
 */
export function cloneStroke(
  plane: Float32Array,
  rect: Rect,
  out: Float32Array,
  window: Rect,
  stroke: MendStroke,
  level: number,
): void {
  const { from } = stroke;
  if (!from) return;
  const [dx, dy] = from.map((v) => Math.round(v / 2 ** level));
  const about = aboutStroke(stroke, level);
  for (let y = Math.max(window.y, about.y); y < Math.min(window.y + window.height, about.y + about.height); y++) {
    for (let x = Math.max(window.x, about.x); x < Math.min(window.x + window.width, about.x + about.width); x++) {
      const share = strokeWeight(stroke, toFullSize(x, level), toFullSize(y, level));
      if (share === 0) continue;
      const [c, r] = [x + dx - rect.x, y + dy - rect.y];
      const v = c >= 0 && r >= 0 && c < rect.width && r < rect.height ? plane[r * rect.width + c] : Number.NaN;
      const at = (y - window.y) * window.width + x - window.x;
      if (v === v && out[at] === out[at]) out[at] += share * (v - out[at]);
    }
  }
}
