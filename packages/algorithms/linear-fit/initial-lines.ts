import { quantiles } from '@owl-loom/image/stats/quantile';
import { medianInPlace } from '@owl-loom/image/stats/quickselect';
import type { SelectedPairs } from './selected-pairs';
import { deming, type Line, PairSums } from './pairs';

/** About how many blocks are looked at, whatever the size of the picture. */
const MOST_BLOCKS = 2500;
/** Blocks brighter or fainter than this quantile of either image are left out of the second and third start. */
const TRIM = 0.86;

/** First lines from block medians, which see through outliers and have little noise of their own; those nearly alike are one. */
export function initialLines(pairs: SelectedPairs, ratio: number, origin: { x: number; y: number }): Line[] {
  const blocks = blockMedians(pairs, origin);
  const points = blocks.length >= 20 ? blocks : everyPixel(pairs, origin);
  const edge = (pick: (p: Point) => number, q: number) => quantiles(Float32Array.from(points, pick), [q])[0];
  const high = { x: edge((p) => p.x, TRIM), y: edge((p) => p.y, TRIM) };
  const low = { x: edge((p) => p.x, 1 - TRIM), y: edge((p) => p.y, 1 - TRIM) };
  const sets = [
    points,
    points.filter((p) => p.x <= high.x && p.y <= high.y),
    points.filter((p) => p.x >= low.x && p.y >= low.y),
  ];
  const lines: Line[] = [];
  for (const set of sets) {
    const line = clippedLine(set, ratio);
    if (line && lines.every((other) => Math.abs(other.b - line.b) > 0.02 * Math.abs(line.b))) lines.push(line);
  }
  return lines;
}

interface Point {
  readonly x: number;
  readonly y: number;
}

function blockMedians(pairs: SelectedPairs, origin: { x: number; y: number }): Point[] {
  const { width, height, reference, target } = pairs.input;
  const side = Math.max(2, Math.min(8, Math.floor(Math.sqrt((width * height) / 400))));
  const apart = Math.max(side, Math.floor(Math.sqrt((width * height) / MOST_BLOCKS)));
  const points: Point[] = [];
  const [xs, ys] = [new Float64Array(side * side), new Float64Array(side * side)];
  for (let by = 0; by + side <= height; by += apart) {
    for (let bx = 0; bx + side <= width; bx += apart) {
      let n = 0;
      for (let y = by; y < by + side; y++) {
        for (let i = y * width + bx; i < y * width + bx + side; i++) {
          if (!pairs.countsAt(i)) continue;
          xs[n] = target[i] - origin.x;
          ys[n++] = reference[i] - origin.y;
        }
      }
      if (2 * n < side * side) continue;
      points.push({ x: xs.subarray(0, n).sort()[n >> 1], y: ys.subarray(0, n).sort()[n >> 1] });
    }
  }
  return points;
}

function everyPixel(pairs: SelectedPairs, origin: { x: number; y: number }): Point[] {
  const { target, reference } = pairs.input;
  const points: Point[] = [];
  for (let i = 0; i < target.length; i++) {
    if (pairs.countsAt(i)) points.push({ x: target[i] - origin.x, y: reference[i] - origin.y });
  }
  return points;
}

function clippedLine(points: readonly Point[], ratio: number): Line | undefined {
  let kept = points;
  let line: Line | undefined;
  for (let round = 0; round < 12; round++) {
    const sums = new PairSums();
    for (const p of kept) sums.add(p.x, p.y);
    const next = deming(sums, ratio);
    if (!next) break;
    line = next;
    const residuals = Float32Array.from(points, (p) => Math.abs(p.y - next.a - next.b * p.x));
    const sigma = 1.4826 * medianInPlace(residuals.slice());
    const closer = points.filter((_, i) => residuals[i] <= Math.max(3 * sigma, 1e-30));
    if (closer.length < 3 || closer.length === kept.length) break;
    kept = closer;
  }
  return line;
}
