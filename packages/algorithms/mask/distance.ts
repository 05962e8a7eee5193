/** A place in frame pixels at full size. */
export type Point = readonly [x: number, y: number];

/** Square of the distance from a place to a line between two points. */
export function squaredDistanceToSegment(px: number, py: number, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const long = dx * dx + dy * dy;
  const t = long > 0 ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / long)) : 0;
  return (px - ax - t * dx) ** 2 + (py - ay - t * dy) ** 2;
}

/** How far inside a closed shape a place lies, in pixels; less than nought outside. Where its sides cross, what is crossed twice is outside. */
export function signedDistanceToPolygon(px: number, py: number, points: readonly Point[]): number {
  let nearest = Number.POSITIVE_INFINITY;
  let inside = false;
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const [a, b] = [points[j], points[i]];
    nearest = Math.min(nearest, squaredDistanceToSegment(px, py, a, b));
    if (a[1] > py !== b[1] > py && px < a[0] + ((py - a[1]) / (b[1] - a[1])) * (b[0] - a[0])) inside = !inside;
  }
  return inside ? Math.sqrt(nearest) : -Math.sqrt(nearest);
}

/** After these it stands within a few millionths of the longer axis. */
const ROUNDS = 4;

/** As `Math.hypot`, which takes care of overflow and is many times slower. */
const length = (x: number, y: number): number => Math.sqrt(x * x + y * y);

/**
 * How far inside an ellipse a place lies, in pixels; less than nought outside. The nearest point of the rim is walked to by the circle that
 * fits the rim where one stands, which settles in a few steps whatever the shape.
 * @param u, v from the middle along the axes `a` and `b`
 */
export function signedDistanceToEllipse(u: number, v: number, a: number, b: number): number {
  const px = Math.abs(u);
  const py = Math.abs(v);
  let tx = Math.SQRT1_2;
  let ty = Math.SQRT1_2;
  const bend = a * a - b * b;
  for (let round = 0; round < ROUNDS; round++) {
    const x = a * tx;
    const y = b * ty;
    // Middle of the circle that fits the rim there.
    const ex = (bend * tx * tx * tx) / a;
    const ey = (-bend * ty * ty * ty) / b;
    const r = length(x - ex, y - ey);
    const q = length(px - ex, py - ey);
    if (q === 0) break;
    const nx = Math.min(1, Math.max(0, (((px - ex) * r) / q + ex) / a));
    const ny = Math.min(1, Math.max(0, (((py - ey) * r) / q + ey) / b));
    const long = length(nx, ny);
    tx = nx / long;
    ty = ny / long;
  }
  const distance = length(px - a * tx, py - b * ty);
  return (px / a) ** 2 + (py / b) ** 2 <= 1 ? distance : -distance;
}
