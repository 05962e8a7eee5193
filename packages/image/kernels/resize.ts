import { LOBES, lanczos } from './lanczos-table';

/** The source pixels of each output pixel along a line, and their weights, one after the other. */
interface Taps {
  /** The first source pixel of each. */
  readonly first: Int32Array;
  /** Where its weights begin; those of the next begin where they end. */
  readonly begins: Int32Array;
  readonly weights: Float64Array;
  /** The source pixel in whose middle it lies nearest. */
  readonly nearest: Int32Array;
}

/** Taps along a line of `from` pixels brought to `to`; both lines have the same ends. */
function tapsOf(from: number, to: number): Taps {
  const span = Math.max(1, from / to);
  const reach = LOBES * span;
  const first = new Int32Array(to);
  const nearest = new Int32Array(to);
  const begins = new Int32Array(to + 1);
  const all: number[] = [];
  for (let i = 0; i < to; i++) {
    const at = ((i + 0.5) * from) / to - 0.5;
    first[i] = Math.max(0, Math.ceil(at - reach));
    const last = Math.min(from - 1, Math.floor(at + reach));
    const weights = Array.from({ length: last - first[i] + 1 }, (_, k) => lanczos((first[i] + k - at) / span));
    const sum = weights.reduce((a, b) => a + b, 0);
    for (const w of weights) all.push(w / sum);
    begins[i + 1] = all.length;
    nearest[i] = Math.min(from - 1, Math.max(0, Math.round(at)));
  }
  return { first, begins, weights: Float64Array.from(all), nearest };
}

/** The share of the weight below which what is left would be blown up. */
const LEAST = 0.4;

/** One line without holes from its taps: each value the weighted mean of its pixels, held within their range. */
function along(line: Float32Array, { first, begins, weights }: Taps, out: Float32Array): void {
  for (let x = 0; x < out.length; x++) {
    const begin = begins[x];
    const end = begins[x + 1];
    let at = first[x];
    let low = line[at];
    let high = low;
    let sum = 0;
    let weight = 0;
    for (let k = begin; k < end; k++, at++) {
      const v = line[at];
      sum += weights[k] * v;
      weight += weights[k];
      if (v < low) low = v;
      if (v > high) high = v;
    }
    out[x] = Math.min(high, Math.max(low, sum / weight));
  }
}

/** The same of a line with holes: those do not count, and where the nearest pixel is one, so is the value. */
function alongHoles(line: Float32Array, { first, begins, weights, nearest }: Taps, out: Float32Array): void {
  for (let x = 0; x < out.length; x++) {
    const middle = line[nearest[x]];
    let low = middle;
    let high = middle;
    let sum = 0;
    let weight = 0;
    for (let k = begins[x], at = first[x]; k < begins[x + 1]; k++, at++) {
      const v = line[at];
      if (v !== v) continue;
      sum += weights[k] * v;
      weight += weights[k];
      if (v < low) low = v;
      if (v > high) high = v;
    }
    const held = weight > LEAST ? Math.min(high, Math.max(low, sum / weight)) : middle;
    out[x] = middle === middle ? held : middle;
  }
}

const hasHoles = (values: Float32Array): boolean => {
  for (let i = 0; i < values.length; i++) if (values[i] !== values[i]) return true;
  return false;
};

/** Rows of a plane brought to fewer or more rows: line by line, so that memory is read in order. */
function upward(wide: Float32Array, width: number, { first, begins, weights, nearest }: Taps, out: Float32Array): void {
  const sum = new Float64Array(width);
  const weight = new Float64Array(width);
  const low = new Float32Array(width);
  const high = new Float32Array(width);
  for (let y = 0; y < nearest.length; y++) {
    const middle = wide.subarray(nearest[y] * width, (nearest[y] + 1) * width);
    sum.fill(0);
    weight.fill(0);
    low.set(middle);
    high.set(middle);
    for (let k = begins[y], row = first[y]; k < begins[y + 1]; k++, row++) {
      const w = weights[k];
      const start = row * width;
      for (let x = 0; x < width; x++) {
        const v = wide[start + x];
        if (v !== v) continue;
        sum[x] += w * v;
        weight[x] += w;
        if (v < low[x]) low[x] = v;
        if (v > high[x]) high[x] = v;
      }
    }
    const to = out.subarray(y * width, (y + 1) * width);
    for (let x = 0; x < width; x++) {
      const held = Math.min(high[x], Math.max(low[x], sum[x] / weight[x]));
      to[x] = middle[x] === middle[x] && weight[x] > LEAST ? held : middle[x];
    }
  }
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
  for (let y = 0; y < height; y++) {
    const line = plane.subarray(y * width, (y + 1) * width);
    (hasHoles(line) ? alongHoles : along)(line, across, wide.subarray(y * toWidth, (y + 1) * toWidth));
  }
  upward(wide, toWidth, tapsOf(height, toHeight), out);
}
