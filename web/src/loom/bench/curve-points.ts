import type { CurvePoint } from '../../../../core/tone/monotone';

/** Points of a curve keep so far apart. */
const APART = 0.004;

const held = (v: number, low = 0, high = 1): number => Math.min(high, Math.max(low, v));
/** To a thousandth: nobody sets a point finer. */
const rounded = (v: number): number => Math.round(1000 * v) / 1000;

/** A point moved, between its neighbours and within the chart. */
export function moved(points: readonly CurvePoint[], index: number, [x, y]: CurvePoint): CurvePoint[] {
  const low = index > 0 ? points[index - 1][0] + APART : 0;
  const high = index < points.length - 1 ? points[index + 1][0] - APART : 1;
  return points.map((point, i): CurvePoint => (i === index ? [rounded(held(x, low, high)), rounded(held(y))] : point));
}

/** A point set at a place; one that stands there already is taken up. */
export function added(points: readonly CurvePoint[], place: CurvePoint): { points: CurvePoint[]; index: number } {
  const [x, y] = [held(place[0]), place[1]];
  const near = points.findIndex((point) => Math.abs(point[0] - x) < 2 * APART);
  if (near >= 0) return { points: moved(points, near, [points[near][0], y]), index: near };
  const at = points.filter((point) => point[0] < x).length;
  const next = points.toSpliced(at, 0, [rounded(x), rounded(held(y))]);
  return { points: next, index: at };
}

/** The line that changes nothing. */
export const STRAIGHT: readonly CurvePoint[] = [
  [0, 0],
  [1, 1],
];

/** Whether a line changes nothing. */
export const isStraight = (points: readonly CurvePoint[]): boolean =>
  points[0][0] === 0 && points[points.length - 1][0] === 1 && points.every(([x, y]) => x === y);
