/** A point of a curve. */
export type CurvePoint = readonly [x: number, y: number];

/** Places of 0 to 1 at which it is known which piece of a curve lies there. */
const HINTS = 256;

/**
 * The monotone cubic through points (Fritsch & Carlson 1980): it rises where they rise, and never swings beyond them. Before the first point
 * and after the last it goes on level.
 * @param points two at least, x rising
 * @returns its value at any place
 */
export function monotoneCubic(points: readonly CurvePoint[]): (x: number) => number {
  const n = points.length;
  const xs = Float64Array.from(points, ([x]) => x);
  const ys = Float64Array.from(points, ([, y]) => y);
  const slopes = Float64Array.from({ length: n - 1 }, (_, i) => (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i]));
  const tangents = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    if (i === 0 || i === n - 1) tangents[i] = slopes[Math.min(i, n - 2)];
    else tangents[i] = slopes[i - 1] * slopes[i] <= 0 ? 0 : (slopes[i - 1] + slopes[i]) / 2;
  }
  for (let i = 0; i < n - 1; i++) {
    if (slopes[i] === 0) {
      tangents[i] = 0;
      tangents[i + 1] = 0;
      continue;
    }
    const [a, b] = [tangents[i] / slopes[i], tangents[i + 1] / slopes[i]];
    const size = Math.hypot(a, b);
    if (size <= 3) continue;
    // Steeper at either end it would swing over.
    tangents[i] = (3 / size) * a * slopes[i];
    tangents[i + 1] = (3 / size) * b * slopes[i];
  }
  const hints = Int32Array.from({ length: HINTS + 1 }, (_, k) => {
    let piece = 0;
    while (piece < n - 2 && xs[piece + 1] <= k / HINTS) piece++;
    return piece;
  });
  return (x) => {
    if (x !== x) return x;
    if (x <= xs[0]) return ys[0];
    if (x >= xs[n - 1]) return ys[n - 1];
    let i = x > 0 && x < 1 ? hints[Math.floor(x * HINTS)] : 0;
    while (x >= xs[i + 1]) i++;
    const width = xs[i + 1] - xs[i];
    const t = (x - xs[i]) / width;
    const u = 1 - t;
    return (
      (1 + 2 * t) * u * u * ys[i] +
      t * u * u * width * tangents[i] +
      t * t * (3 - 2 * t) * ys[i + 1] -
      t * t * u * width * tangents[i + 1]
    );
  };
}
