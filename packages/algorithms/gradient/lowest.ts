import { Matrix, QrDecomposition } from 'ml-matrix';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { quantile } from './quantile';

/** A box by its place and its level. */
interface Placed {
  readonly x: number;
  readonly y: number;
  readonly value: number;
}

/** The shapes of a sky, of which a surface is the sum: of a place, −1 to 1 across and up. */
type Shapes = (u: number, v: number) => number[];

const PLANE: Shapes = (u, v) => [1, u, v];
const BEND: Shapes = (u, v) => [1, u, v, u * u, u * v, v * v];

/** How steeply a glow rises towards where it comes from: by these powers of e over half the picture. */
const STEEPS = [0.8, 1.6, 3] as const;

/** The sides and corners from beyond which a glow can come. */
const SIDES = [-1, 0, 1].flatMap((a) => [-1, 0, 1].map((b) => [a, b] as const)).filter(([a, b]) => a !== 0 || b !== 0);

/** Bent, and with a glow from beyond the frame on one side. */
const glowing =
  ([a, b]: (typeof SIDES)[number], steep: number): Shapes =>
  (u, v) => [...BEND(u, v), Math.exp(steep * (a * u + b * v - Math.abs(a) - Math.abs(b)))];

/** Darker towards the corners, as optics leave it. */
const VIGNETTED: Shapes = (u, v) => [...BEND(u, v), (u * u + v * v) ** 2];

/** The surfaces that are tried, the simplest first. */
const FAMILIES: readonly (readonly Shapes[])[] = [
  [PLANE],
  [BEND],
  [VIGNETTED, ...STEEPS.flatMap((steep) => SIDES.map((side) => glowing(side, steep)))],
];

/** Parts of the picture across and up, of each of which the darkest boxes are taken to begin with: so large a share, and so many at least. */
const PARTS = [4, 3] as const;
const DARKEST = 0.2;
const DARKEST_BOXES = 3;
/** Boxes that stand further above the surface are gas; so far below are shadows. In σ of the boxes below it. */
const ABOVE = 3;
const BELOW = 4;
/** No wider than so many errors of a box are those σ: with more, gas would come in and pull the surface up. */
const WIDEST = 2;
/** A surface is taken where its boxes agree to so many of their errors, and no more complicated one holds so much more of them. */
const AGREE = 2.2;
const MORE = 1.15;
/** One with a glow, which gas at the rim may look like, must hold so large a part at least. */
const GLOW_PART = 0.5;

/** The boxes that a surface holds, and how far each of all boxes stands above it. */
export interface Lowest<B> {
  readonly kept: readonly B[];
  readonly above: readonly number[];
  /** How widely boxes lie below it. */
  readonly sigma: number;
}

/** The simplest surface, and the largest share of the boxes that any holds. */
export interface LowestOfAll<B> extends Lowest<B> {
  readonly most: number;
}

/** Boxes with the shapes at their places. */
interface Shaped {
  readonly boxes: readonly Placed[];
  readonly rows: readonly (readonly number[])[];
}

/** How far each box stands above the surface of least squares through some, by their indices. */
function aboveSurface({ boxes, rows }: Shaped, some: readonly number[]): number[] {
  const n = rows[0].length;
  const [a, b] = [Matrix.zeros(n, n), Matrix.zeros(n, 1)];
  for (const i of some)
    for (let p = 0; p < n; p++) {
      b.set(p, 0, b.get(p, 0) + rows[i][p] * boxes[i].value);
      for (let q = 0; q < n; q++) a.set(p, q, a.get(p, q) + rows[i][p] * rows[i][q]);
    }
  const terms = new QrDecomposition(a).solve(b).to1DArray();
  return boxes.map((box, i) => box.value - rows[i].reduce((sum, shape, k) => sum + shape * terms[k], 0));
}

/** The darkest boxes of each part of the picture, measured from the surface through them. */
function darkest(shaped: Shaped, rect: Rect): number[] {
  const parts = Array.from({ length: PARTS[0] * PARTS[1] }, (): number[] => []);
  shaped.boxes.forEach(({ x, y }, i) => {
    const [c, r] = [((x - rect.x) / rect.width) * PARTS[0], ((y - rect.y) / rect.height) * PARTS[1]].map(Math.floor);
    parts[r * PARTS[0] + c]?.push(i);
  });
  let kept = shaped.boxes.map((_, i) => i);
  for (let round = 0; round < 6; round++) {
    const above = aboveSurface(shaped, kept);
    kept = parts.flatMap((part) =>
      [...part]
        .sort((a, b) => above[a] - above[b])
        .slice(0, Math.max(DARKEST_BOXES, Math.round(DARKEST * part.length))),
    );
  }
  return kept;
}

/** The boxes that lie on one surface of some shapes, from the darkest on. */
function onOne<B extends Placed>(boxes: readonly B[], shapes: Shapes, rect: Rect, sure: number): Lowest<B> {
  const [cx, cy] = [rect.x + rect.width / 2, rect.y + rect.height / 2];
  const rows = boxes.map(({ x, y }) => shapes((2 * (x - cx)) / rect.width, (2 * (y - cy)) / rect.height));
  const shaped = { boxes, rows };
  let kept = darkest(shaped, rect);
  let above: number[] = [];
  let sigma = Number.POSITIVE_INFINITY;
  for (let round = 0; round < 60; round++) {
    above = aboveSurface(shaped, kept);
    const below = kept.flatMap((i) => (above[i] < 0 ? [-above[i]] : []));
    if (below.length === 0) break;
    sigma = Math.max(sure, 1.4826 * quantile(below, 0.5));
    const unit = Math.min(sigma, WIDEST * sure);
    const next = above.flatMap((r, i) => (r <= ABOVE * unit && r >= -BELOW * unit ? [i] : []));
    if (next.length < rows[0].length + 6) break;
    const isStill = next.length === kept.length && next.every((i, k) => i === kept[k]);
    kept = next;
    if (isStill) break;
  }
  return { kept: kept.map((i) => boxes[i]), above, sigma };
}

/**
 * The simplest surface that the darkest boxes all over the picture lie on: faint outer gas stands above it. A glow from beyond the frame is part
 * of the surface, since it rises evenly towards one side.
 * @param sure error of a box
 */
export function lowestSurface<B extends Placed>(boxes: readonly B[], rect: Rect, sure: number): LowestOfAll<B> {
  const tried = FAMILIES.map((family) =>
    family
      .map((shapes) => onOne(boxes, shapes, rect, sure))
      .reduce((best, one) => (one.kept.length > best.kept.length ? one : best)),
  ).filter(({ kept }, k) => k < 2 || kept.length >= GLOW_PART * boxes.length);
  const widest = tried.reduce((best, one) => (one.kept.length > best.kept.length ? one : best));
  const simple = tried.find(({ kept, sigma }) => MORE * kept.length >= widest.kept.length && sigma <= AGREE * sure);
  return { ...(simple ?? widest), most: widest.kept.length / boxes.length };
}
