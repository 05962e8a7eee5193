import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { medianInPlace } from '@owl-loom/image/stats/quickselect';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { PlaneField } from './shared-profile';
import { knotOfRadius, KNOTS, radiusAt, profileAt } from './radial-profile';

/** One arm of a diffraction spike: a straight ray of light from a star's middle, across it a Gaussian. */
export interface Spike {
  /** Direction, radians counter-clockwise from the right. */
  readonly angle: number;
  /** σ across, pixels. */
  readonly wide: number;
  /** Height along its middle by distance from the star, in the image's units. */
  readonly table: Float64Array;
  /** It ends here. */
  readonly reach: number;
}

/** Across, a spike is followed to so many σ. */
const ACROSS = 3.5;
/** No spike is followed further than so many pixels. */
export const FURTHEST = 360;
/** A spike begins where the star's own core ends, in full widths: from nothing to all of it. */
const BEGINS = [0.7, 1.4] as const;
/** Share of its length over which it sinks to nothing. */
const FADE = 0.25;

/**
 * Goes over the pixels of a level that a ray from a place touches.
 * @param far how long it is, full-size pixels
 * @param half how far it reaches on either side
 * @param deed is given a pixel's index in `rect`, and its middle as distances along and across the ray
 */
export function forEachRayPixel(
  rect: Rect,
  level: number,
  { x, y }: { readonly x: number; readonly y: number },
  angle: number,
  far: number,
  half: number,
  deed: (at: number, along: number, across: number) => void,
): void {
  const n = 2 ** level;
  const off = (n - 1) / 2;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [top, right] = [y + Math.max(0, far * s), x + Math.max(0, far * c)];
  const [low, left] = [y + Math.min(0, far * s), x + Math.min(0, far * c)];
  const bottom = Math.max(rect.y, Math.floor((low - half - off) / n));
  const head = Math.min(rect.y + rect.height - 1, Math.ceil((top + half - off) / n));
  for (let j = bottom; j <= head; j++) {
    const v = toFullSize(j, level) - y;
    // Where the ray crosses this row: on its axis, and as far to either side as it is wide.
    const aside = Math.abs(s) > 1e-3 ? half / Math.abs(s) : Number.POSITIVE_INFINITY;
    const middle = Math.abs(s) > 1e-3 ? x + (v * c) / s : x;
    const from = Math.max(left - half, middle - aside);
    const to = Math.min(right + half, middle + aside);
    const first = Math.max(rect.x, Math.floor((from - off) / n));
    const last = Math.min(rect.x + rect.width - 1, Math.ceil((to - off) / n));
    for (let i = first; i <= last; i++) {
      const u = toFullSize(i, level) - x;
      const [along, across] = [u * c + v * s, v * c - u * s];
      if (along > 0 && along <= far && Math.abs(across) <= half)
        deed((j - rect.y) * rect.width + i - rect.x, along, across);
    }
  }
}

/** Places of a pixel's side, at most, at which a spike's light is taken where a pixel spans many of full size. */
const PARTS = 4;

/**
 * Goes over the pixels of a level that a spike lights, with the mean of its light over each.
 * @param by how much narrower and shorter it is than it was found
 */
export function overSpike(
  rect: Rect,
  level: number,
  place: { readonly x: number; readonly y: number },
  { angle, wide, table, reach }: Spike,
  by: number,
  deed: (at: number, light: number) => void,
): void {
  const pixel = 2 ** level;
  const parts = Math.min(PARTS, pixel);
  const step = pixel / parts;
  // Places further apart than it is wide would miss it: as much light, wider and lower.
  const sigma = Math.sqrt((wide / by) ** 2 + (step ** 2 - 1) / 4);
  const share = wide / by / sigma / parts ** 2;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const margin = (pixel - step) * Math.SQRT1_2;
  const [far, half] = [reach / by, ACROSS * sigma];
  const from = { x: place.x - margin * c, y: place.y - margin * s };
  forEachRayPixel(rect, level, from, angle, far + 2 * margin, half + margin, (at, along, across) => {
    let sum = 0;
    for (let k = 0; k < parts * parts; k++) {
      const [a, b] = [((k % parts) + 0.5) * step - pixel / 2, (Math.floor(k / parts) + 0.5) * step - pixel / 2];
      const u = along - margin + a * c + b * s;
      const d = across + b * c - a * s;
      if (u > 0 && u <= far && Math.abs(d) <= half)
        sum += profileAt(table, u * by) * Math.exp(-(d ** 2) / (2 * sigma ** 2));
    }
    deed(at, share * sum);
  });
}

/** Height of a spike over a stretch of it, with its error. */
interface Piece {
  readonly from: number;
  readonly to: number;
  readonly height: number;
  readonly error: number;
}

/** Heights along a ray, each over the level beside it. */
function piecesOf(
  field: PlaneField,
  place: { x: number; y: number },
  angle: number,
  wide: number,
  scatter: number,
): Piece[] {
  const { plane, width, height, fwhm } = field;
  const edges = [fwhm];
  for (let last = fwhm; last < FURTHEST; last = edges[edges.length - 1]) edges.push(last + Math.max(1.5, 0.09 * last));
  const count = edges.length - 1;
  const [inner, outer] = [ACROSS * wide, ACROSS * wide + 5];
  const sums = Array.from({ length: count }, () => ({ gv: 0, g: 0, gg: 0, beside: [] as number[] }));
  let k = 0;
  const rect = { x: 0, y: 0, width, height };
  forEachRayPixel(rect, 0, place, angle, Math.min(edges[count], FURTHEST), outer, (at, along, across) => {
    const v = plane[at];
    if (v !== v || along < edges[0]) return;
    while (k > 0 && along < edges[k]) k--;
    while (k < count - 1 && along >= edges[k + 1]) k++;
    const own = sums[k];
    if (Math.abs(across) > inner) own.beside.push(v);
    else {
      const g = Math.exp(-(across ** 2) / (2 * wide ** 2));
      own.gv += g * v;
      own.g += g;
      own.gg += g * g;
    }
  });
  const pieces: Piece[] = [];
  for (const [i, { gv, g, gg, beside }] of sums.entries()) {
    // It ends where the image does.
    if (gg < 0.5 * wide || beside.length < 4) break;
    const level = medianInPlace(Float32Array.from(beside));
    const error = scatter * Math.sqrt(1 / gg + (1.57 * (g / gg) ** 2) / beside.length);
    pieces.push({ from: edges[i], to: edges[i + 1], height: (gv - level * g) / gg, error });
  }
  return pieces;
}

/** Heights that fall outwards and nowhere rise, nearest to those given by their errors (pooling of neighbours, Ayer 1955). */
function falling(pieces: readonly Piece[]): { height: number; error: number }[] {
  const pools: { height: number; weight: number; count: number }[] = [];
  for (const { height, error } of pieces) {
    let pool = { height, weight: 1 / error ** 2, count: 1 };
    for (let last = pools.at(-1); last && last.height < pool.height; last = pools.at(-1)) {
      const weight = last.weight + pool.weight;
      pool = {
        height: (last.height * last.weight + pool.height * pool.weight) / weight,
        weight,
        count: last.count + pool.count,
      };
      pools.pop();
    }
    pools.push(pool);
  }
  return pools.flatMap(({ height, weight, count }) =>
    Array.from({ length: count }, () => ({ height, error: 1 / Math.sqrt(weight) })),
  );
}

/** A piece that stands so many errors above those beside it holds something else. */
const LONE = 3;

/** What lies on a ray by chance, such as a neighbour, stands out of the pieces on both sides of it. */
const calmed = (pieces: readonly Piece[]): Piece[] =>
  pieces.map((piece, i) => {
    if (i === 0 || i === pieces.length - 1) return piece;
    const [before, after] = [pieces[i - 1].height, pieces[i + 1].height];
    const max = Math.max(before, after);
    return piece.height > max + LONE * piece.error ? { ...piece, height: max } : piece;
  });

/** A pool of pieces must stand so many errors above nothing to be followed. */
const SURE = 1.5;

/**
 * A ray of light from a star in one direction, from an image from which all round light has been taken.
 * @param scatter of the pixels about it
 * @returns the spike, undefined where nothing is followed, and how many errors all of it stands above nothing
 */
export function spikeAlong(
  field: PlaneField,
  place: { readonly x: number; readonly y: number },
  angle: number,
  wide: number,
  scatter: number,
): { readonly spike?: Spike; readonly sure: number } {
  const pieces = calmed(piecesOf(field, place, angle, wide, scatter));
  const near = pieces.filter(({ from }) => from < 8 * field.fwhm);
  const weight = near.reduce((sum, { error }) => sum + 1 / error ** 2, 0);
  const sure =
    weight > 0 ? near.reduce((sum, { height, error }) => sum + height / error ** 2, 0) / Math.sqrt(weight) : 0;
  const heights = falling(pieces);
  const end = heights.findIndex(({ height, error }) => !(height > SURE * error));
  const last = end < 0 ? heights.length : end;
  if (last === 0) return { sure };
  const reach = pieces[last - 1].to;
  const table = new Float64Array(KNOTS);
  const middles = pieces.slice(0, last).map(({ from, to }) => (from + to) / 2);
  for (let k = 0; k < KNOTS && k <= knotOfRadius(reach) + 1; k++) {
    const r = radiusAt(k);
    let i = 0;
    while (i < last - 1 && middles[i + 1] < r) i++;
    const next = Math.min(last - 1, i + 1);
    const share = next > i ? Math.max(0, Math.min(1, (r - middles[i]) / (middles[next] - middles[i]))) : 0;
    const height = heights[i].height + share * (heights[next].height - heights[i].height);
    const { fwhm } = field;
    table[k] =
      height * smoothstep((r / fwhm - BEGINS[0]) / (BEGINS[1] - BEGINS[0])) * smoothstep((1 - r / reach) / FADE);
  }
  return { spike: { angle, wide, table, reach }, sure };
}
