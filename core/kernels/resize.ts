import { LOBES, lanczos } from './lanczos-table';

/** The source pixels of one output pixel along a line: the first, and their weights. */
interface Taps {
  readonly first: number;
  readonly weights: Float64Array;
  /** The source pixel in whose middle it lies nearest. */
  readonly nearest: number;
}

/** Taps along a line of `from` pixels brought to `to`; both lines have the same ends. */
function tapsOf(from: number, to: number): Taps[] {
  const span = Math.max(1, from / to);
  const reach = LOBES * span;
  return Array.from({ length: to }, (_, i) => {
    const at = ((i + 0.5) * from) / to - 0.5;
    const first = Math.max(0, Math.ceil(at - reach));
    const last = Math.min(from - 1, Math.floor(at + reach));
    const weights = Float64Array.from({ length: last - first + 1 }, (__, k) => lanczos((first + k - at) / span));
    const sum = weights.reduce((a, b) => a + b, 0);
    return {
      first,
      weights: weights.map((w) => w / sum),
      nearest: Math.min(from - 1, Math.max(0, Math.round(at))),
    };
  });
}

/** One value from its taps along a line of pixels `step` apart. */
function weighed(source: Float32Array, start: number, step: number, { first, weights, nearest }: Taps): number {
  const middle = source[start + nearest * step];
  if (middle !== middle) return middle;
  let [sum, weight, low, high] = [0, 0, middle, middle];
  for (let k = 0, at = start + first * step; k < weights.length; k++, at += step) {
    const v = source[at];
    if (v !== v) continue;
    sum += weights[k] * v;
    weight += weights[k];
    if (v < low) low = v;
    if (v > high) high = v;
  }
  // With most of the weight gone the rest would be blown up.
  return weight > 0.4 ? Math.min(high, Math.max(low, sum / weight)) : middle;
}

/**
 * A plane of another size by Lanczos-3, widened where it shrinks so that nothing aliases: along rows, then along columns, each value held
 * within the range of the pixels that it is made of. No data stays where the nearest pixel has none, and does not count elsewhere.
 * @param out width times height of the new size
 */
export function resize(
  plane: Float32Array,
  [width, height]: readonly [number, number],
  [toWidth, toHeight]: readonly [number, number],
  out: Float32Array,
): void {
  const across = tapsOf(width, toWidth);
  const wide = new Float32Array(toWidth * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < toWidth; x++) wide[y * toWidth + x] = weighed(plane, y * width, 1, across[x]);
  const up = tapsOf(height, toHeight);
  for (let y = 0; y < toHeight; y++)
    for (let x = 0; x < toWidth; x++) out[y * toWidth + x] = weighed(wide, x, toWidth, up[y]);
}
