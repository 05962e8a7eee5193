import type { Rect } from '@owl-loom/image/geometry/rect';
import { medianOfSorted } from '@owl-loom/image/stats/median';
import { radixSort } from '@owl-loom/image/stats/radix-sort';
import { madOfSorted, upperBound } from '@owl-loom/image/stats/sorted';
import { type Lowest, lowestSurface } from './lowest';
import { quantile } from './quantile';
import { fitPolynomial, modelAt, termCount } from './model';

/** A square box on the background: its middle and side, full-size pixels. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly size: number;
}

/** A box with what was found in it. */
export interface BoxLevel extends Box {
  /** Sky in the box: the median of the pixels that are left when stars are cut off. */
  readonly value: number;
  /** How uneven the box is, 1.4826 × MAD. */
  readonly scatter: number;
  readonly pixels: number;
}

/**
 * The sky in a box. Pixels more than 2.5 σ above the median are stars.
 * @param rect where the plane lies
 * @returns undefined where less than half of the box has data
 */
export function measureBox(plane: Float32Array, rect: Rect, box: Box): BoxLevel | undefined {
  const half = box.size / 2;
  const from = (v: number, low: number) => Math.max(low, Math.ceil(v - half + 0.5));
  const to = (v: number, low: number, length: number) => Math.min(low + length - 1, Math.floor(v + half - 0.5));
  const [left, right] = [from(box.x, rect.x), to(box.x, rect.x, rect.width)];
  const [low, high] = [from(box.y, rect.y), to(box.y, rect.y, rect.height)];
  const pixels = (step: number): Pixels => {
    const across = (a: number, b: number) => Math.max(0, Math.floor((b - a) / step) + 1);
    const max = across(left, right) * across(low, high);
    const there = { x: new Float32Array(max), y: new Float32Array(max), v: new Float32Array(max) };
    let count = 0;
    for (let y = low; y <= high; y += step) {
      for (let x = left; x <= right; x += step) {
        const v = plane[(y - rect.y) * rect.width + x - rect.x];
        if (v !== v) continue;
        there.x[count] = x - box.x;
        there.y[count] = y - box.y;
        there.v[count++] = v;
      }
    }
    return { ...there, count };
  };
  const there = pixels(1);
  if (there.count < 4 || there.count < (box.size * box.size) / 2) return undefined;
  // A slope through the box is what is looked for and no roughness: it is taken out, from the pixels that are no stars. How a large box
  // leans a part of its pixels tells well enough: its level, at its middle, does not hang on that.
  const some = there.count > SOME ? pixels(2) : there;
  let lean: readonly [number, number] = [0, 0];
  for (let round = 0; round < 2; round++) lean = slopeOf(some, levelled(some, lean));
  const { value, scatter, kept } = clippedAbove(levelled(there, lean));
  return { ...box, value, scatter, pixels: kept };
}

/** Pixels of a box from which on every other one in every other row tells how it leans. */
const SOME = 2000;

/** Values without a slope. */
function levelled({ x, y, v, count }: Pixels, [sx, sy]: readonly [number, number]): Float32Array {
  const flat = v.slice(0, count);
  if (sx !== 0 || sy !== 0) for (let i = 0; i < count; i++) flat[i] -= sx * x[i] + sy * y[i];
  return flat;
}

/** Pixels by their place from a box's middle. */
interface Pixels {
  readonly x: Float32Array;
  readonly y: Float32Array;
  readonly v: Float32Array;
  readonly count: number;
}

/**
 * Median and 1.4826 × MAD of what is left when stars, more than 2.5 σ above, are cut off; where they are cut, and how many are left. The
 * values are put in order.
 */
function clippedAbove(values: Float32Array): { value: number; scatter: number; ceiling: number; kept: number } {
  // In rising order what is left is always the first part.
  const sorted = radixSort(values);
  let kept = sorted;
  let value = medianOfSorted(kept);
  let scatter = 0;
  let ceiling = Number.POSITIVE_INFINITY;
  for (let round = 0; round < 6; round++) {
    scatter = 1.4826 * madOfSorted(kept, value);
    ceiling = value + 2.5 * scatter;
    const next = upperBound(kept, ceiling);
    if (next === kept.length || next < 4) break;
    kept = kept.subarray(0, next);
    value = medianOfSorted(kept);
  }
  return { value, scatter, ceiling, kept: upperBound(sorted, ceiling) };
}

/** How pixels lean to the right and upwards, by least squares; those that are stars, their last slope taken out, left out. */
function slopeOf({ x, y, v }: Pixels, flat: Float32Array): [number, number] {
  const { ceiling } = clippedAbove(flat.slice());
  let [n, mx, my, mv] = [0, 0, 0, 0];
  for (let i = 0; i < flat.length; i++) {
    if (!(flat[i] <= ceiling)) continue;
    n++;
    mx += x[i];
    my += y[i];
    mv += v[i];
  }
  [mx, my, mv] = [mx / n, my / n, mv / n];
  let [xx, xy, yy, xv, yv] = [0, 0, 0, 0, 0];
  for (let i = 0; i < flat.length; i++) {
    if (!(flat[i] <= ceiling)) continue;
    const [dx, dy, dv] = [x[i] - mx, y[i] - my, v[i] - mv];
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
    xv += dx * dv;
    yv += dy * dv;
  }
  const det = xx * yy - xy * xy;
  return det > 1e-9 * xx * yy ? [(xv * yy - yv * xy) / det, (yv * xx - xv * xy) / det] : [0, 0];
}

/** Boxes across the longer side. */
const ACROSS = 18;

/** A grid of boxes over the picture. */
export function sampleGrid(rect: Rect): Box[] {
  const apart = Math.max(rect.width, rect.height) / ACROSS;
  const size = Math.max(6, Math.min(96, Math.round(apart / 2.2)));
  const columns = Math.max(3, Math.round(rect.width / apart));
  const rows = Math.max(3, Math.round(rect.height / apart));
  const inset = size / 2 + 2;
  const along = (low: number, length: number, i: number, n: number) =>
    low + inset + (i * (length - 1 - 2 * inset)) / (n - 1);
  return Array.from({ length: columns * rows }, (_, k) => ({
    x: Math.round(along(rect.x, rect.width, k % columns, columns)),
    y: Math.round(along(rect.y, rect.height, Math.floor(k / columns), rows)),
    size,
  }));
}

/** Boxes smoother than this many times the quiet ones pass; gas and crowds of stars are rougher. */
const MAX_ROUGHNESS = 1.6;

/** A hill is told by so many times the error of a box: the tallest of many chords is some three times that of one. */
const SURE = 5;
/** A hill lower than this share of the picture's own range may be the bend of a glow. */
const SLIGHT = 0.02;

/** Directions of chords through a box, in steps of the grid. */
const CHORDS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
] as const;

/** The grid's boxes in rows of so many, with their levels; those without data have none. */
interface Grid {
  readonly levels: readonly (BoxLevel | undefined)[];
  readonly columns: number;
  readonly rect: Rect;
  /** Error of a box. */
  readonly sure: number;
}

/**
 * How far each box that passes for sky stands, at most, above the straight line between two others at the same distance on either side. A broad
 * bend of the whole, as vignetting has it, is no hill.
 */
function hillsIn({ levels, columns, rect, sure }: Grid, isSky: readonly boolean[]): number[] {
  const rows = levels.length / columns;
  const kept = levels.filter((box, i): box is BoxLevel => box !== undefined && isSky[i]);
  const bend = fitPolynomial(lowerOf(kept, rect, sure), 2, rect);
  const above = levels.map((box, i) => (box && isSky[i] ? box.value - modelAt(bend, box.x, box.y) : undefined));
  const at = (c: number, r: number): number | undefined =>
    c >= 0 && r >= 0 && c < columns && r < rows ? above[r * columns + c] : undefined;
  return above.map((own, i) => {
    const [c, r] = [i % columns, Math.floor(i / columns)];
    let max = 0;
    for (const [dc, dr] of own === undefined ? [] : CHORDS) {
      for (let k = 2; k < columns / 2; k++) {
        const [a, b] = [at(c - k * dc, r - k * dr), at(c + k * dc, r + k * dr)];
        if (own !== undefined && a !== undefined && b !== undefined) max = Math.max(max, own - (a + b) / 2);
      }
    }
    return max;
  });
}

/** Takes hills out of what passes for sky, round by round, the tallest first: what stands beside a hill is judged again when the hill is gone. */
function withoutHills(grid: Grid, smooth: readonly boolean[], fewest: number): boolean[] {
  const values = grid.levels.flatMap((box) => (box ? [box.value] : []));
  const limit = Math.max(SURE * grid.sure, SLIGHT * (quantile(values, 0.9) - quantile(values, 0.1)));
  let isSky = [...smooth];
  for (let round = 0; round < 30; round++) {
    const hills = hillsIn(grid, isSky);
    const tallest = Math.max(...hills);
    if (tallest <= limit) break;
    const next = isSky.map((is, i) => is && hills[i] <= Math.max(limit, 0.5 * tallest));
    if (next.filter(Boolean).length < fewest) break;
    isSky = next;
  }
  return isSky;
}

/**
 * Chooses the boxes that show sky and nothing else. Rough ones go first; then those that stand above the lowest surface, where there is one that
 * most of the picture agrees on; else those that stand above others on either side: gas is a hill between lower ground, while a glow from beyond
 * the frame rises towards the frame's edge, however steeply.
 */
export function placeSampleBoxes(plane: Float32Array, rect: Rect): BoxLevel[] {
  const boxes = sampleGrid(rect);
  const columns = boxes.filter((box) => box.y === boxes[0].y).length;
  const levels = boxes.map((box) => measureBox(plane, rect, box));
  const all = levels.filter((box) => box !== undefined);
  if (all.length < termCount(2) + 2) return all;
  const quiet = quantile(
    all.map((b) => b.scatter),
    0.2,
  );
  const isSmooth = levels.map((box) => box !== undefined && box.scatter <= MAX_ROUGHNESS * quiet);
  const smooth = levels.filter((box, i): box is BoxLevel => box !== undefined && isSmooth[i]);
  const fewest = Math.max(termCount(2) + 4, 0.12 * all.length);
  if (smooth.length < fewest) return all;
  const sure = (1.2533 * quiet) / Math.sqrt(all[0].pixels);
  const lowest = lowestSurface(smooth, rect, sure);
  const isAllSky = lowest.most > ALL_SKY;
  const under = isAllSky ? undefined : envelope(smooth, lowest, rect, sure);
  if (under) return under;
  const isSky = withoutHills({ levels, columns, rect, sure }, isSmooth, fewest);
  const left = levels.filter((box, i): box is BoxLevel => box !== undefined && isSky[i]);
  // Gas that reaches the frame has no lower ground on its other side: what stands far above the lowest surface is no sky.
  const isTold = !isAllSky && lowest.kept.length > MOSTLY_SKY * smooth.length;
  const tall = new Set(isTold ? smooth.filter((_, i) => lowest.above[i] > TALL * sure) : []);
  const low = left.filter((box) => !tall.has(box));
  return low.length < fewest ? left : low;
}

/** Where the lowest surface holds more than this share of the boxes, nothing much can be gas; with less than the other, it may not be the sky's. */
const ALL_SKY = 0.9;
const MOSTLY_SKY = 0.55;
/** So many errors of a box stand only gas and glows of a kind that is not known above the lowest surface. */
const TALL = 20;

/** The boxes on the surface must agree to so many of their own errors, be so large a part of all, and span so much of the picture. */
const AGREES = 2.25;
const PART = 0.12;
const SPANS = 0.6;

/**
 * Boxes of the true sky: those on the simplest surface that the darkest boxes all over the picture agree on. Faint outer gas stands above it, and
 * where no box shows sky the surface goes on from around.
 * @param sure error of a box
 * @returns undefined where no such surface fits: the sky is bent in more than one way, or gas covers too much
 */
function envelope(
  boxes: readonly BoxLevel[],
  { kept, sigma }: Lowest<BoxLevel>,
  rect: Rect,
  sure: number,
): BoxLevel[] | undefined {
  const span = (of: (box: BoxLevel) => number) => Math.max(...kept.map(of)) - Math.min(...kept.map(of));
  const spans = span((b) => b.x) >= SPANS * rect.width && span((b) => b.y) >= SPANS * rect.height;
  return sigma <= AGREES * sure && kept.length >= PART * boxes.length && spans ? [...kept] : undefined;
}

/** The boxes that lie near or below a smooth surface through themselves. */
function lowerOf(boxes: readonly BoxLevel[], rect: Rect, sure: number): readonly BoxLevel[] {
  let kept = boxes;
  for (let round = 0; round < 8; round++) {
    const surface = fitPolynomial(kept, 2, rect);
    const off = kept.map((b) => b.value - modelAt(surface, b.x, b.y));
    const below = off.filter((r) => r < 0).map((r) => -r);
    const sigma = Math.max(sure, 1.4826 * quantile(below, 0.5));
    const next = kept.filter((_, i) => off[i] <= 2 * sigma);
    if (next.length === kept.length || next.length < termCount(2) + 4) break;
    kept = next;
  }
  return kept;
}
