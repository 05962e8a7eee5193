import { middleOf } from '../stats/middle';

/** A pixel by its place from a star's middle. */
type Seen = readonly [dx: number, dy: number, value: number];

/** Pixels between two distances from a place, as many as are asked for, spread over all of them. */
export function ring(
  plane: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  from: number,
  to: number,
  most: number,
) {
  const found: Seen[] = [];
  const every = Math.max(1, Math.ceil((Math.PI * (to * to - from * from)) / most));
  let met = 0;
  for (let j = Math.max(0, Math.ceil(y - to)); j <= Math.min(height - 1, y + to); j++) {
    for (let i = Math.max(0, Math.ceil(x - to)); i <= Math.min(width - 1, x + to); i++) {
      const d2 = (i - x) ** 2 + (j - y) ** 2;
      if (d2 <= from * from || d2 > to * to || met++ % every !== 0) continue;
      const v = plane[j * width + i];
      if (v === v) found.push([i - x, j - y, v]);
    }
  }
  return found;
}

const scatterOf = (values: readonly number[], about: number): number =>
  1.4826 * middleOf(values.map((v) => Math.abs(v - about)));

const valuesOf = (pixels: readonly Seen[]): number[] => pixels.map(([, , v]) => v);

/** The slope of what lies around a star, its own neighbours left out: level and rise of a plane, and the scatter about it. */
export function groundOf(
  around: readonly Seen[],
  noise: number,
): { at: (dx: number, dy: number) => number; scatter: number } {
  const values = valuesOf(around);
  const level = middleOf(values);
  const rough = Math.max(noise, scatterOf(values, level));
  const plain = around.filter(([, , v]) => Math.abs(v - level) < 3 * rough);
  const slope = (axis: 0 | 1) =>
    plain.reduce((s, p) => s + p[axis] * (p[2] - level), 0) / plain.reduce((s, p) => s + p[axis] ** 2, 0);
  const [along, up] = [slope(0), slope(1)];
  const flat = around.map(([dx, dy, v]) => v - along * dx - up * dy);
  const middle = middleOf(flat);
  return { at: (dx, dy) => middle + along * dx + up * dy, scatter: Math.max(noise, scatterOf(flat, middle)) };
}

/**
 * Where what is left of a star ends: from there on three rings after another scatter no more than those further out and go on at one
 * level with them. Gas may slope and bend meanwhile.
 */
export function rim(
  x: number,
  y: number,
  reach: number,
  noise: number,
  seen: (x: number, y: number, from: number, to: number) => Seen[],
): number {
  const rings: { middle: number; scatter: number; count: number }[] = [];
  const ringAt = (r: number) => {
    while (rings.length <= r) {
      const values = valuesOf(seen(x, y, rings.length, rings.length + 1));
      const middle = values.length > 0 ? middleOf(values) : Number.NaN;
      rings.push({ middle, scatter: values.length > 0 ? scatterOf(values, middle) : 0, count: values.length });
    }
    return rings[r];
  };
  const quiet = (r: number): boolean => {
    const [own, beyond] = [ringAt(r), ringAt(r + 3)];
    if (own.count < 4 || beyond.count < 4) return true;
    const scatter = Math.max(noise, beyond.scatter);
    return (
      Math.abs(own.middle - beyond.middle) < Math.max(0.4, 3 / Math.sqrt(own.count)) * scatter &&
      own.scatter < 1.5 * scatter
    );
  };
  let radius = 1;
  while (radius < reach && !(quiet(radius) && quiet(radius + 1) && quiet(radius + 2))) radius++;
  return radius;
}
