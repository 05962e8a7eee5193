import KDBush from 'kdbush';
import { partitionPoint } from '@owl-loom/image/stats/sorted';
import { type Affine, determinant, mapPoint } from '@owl-loom/image/geometry/affine';
import { type Pair, fitTransform } from './solve';

/** A star for matching: brighter ones have more weight. */
export interface MatchStar {
  readonly x: number;
  readonly y: number;
  readonly flux: number;
}

/** Three stars, their corners in the order of the side opposite (longest first), by two ratios of sides that no turn, scale or mirror changes. */
interface Triangle {
  readonly corners: readonly [number, number, number];
  readonly p: number;
  readonly q: number;
  /** Whether the corners run counter-clockwise. */
  readonly left: boolean;
}

const NEIGHBOURS = 8;
const ALIKE = 0.004;

/** Triangles of each star with pairs of its nearest neighbours; flat and near-equal ones say too little. */
function triangles(stars: readonly MatchStar[]): Triangle[] {
  const found = new Map<string, Triangle>();
  const far = (a: number, b: number) => Math.hypot(stars[a].x - stars[b].x, stars[a].y - stars[b].y);
  for (let i = 0; i < stars.length; i++) {
    const near = stars
      .map((_, k) => k)
      .filter((k) => k !== i)
      .sort((a, b) => far(i, a) - far(i, b))
      .slice(0, NEIGHBOURS);
    for (let a = 0; a < near.length; a++) {
      for (let b = a + 1; b < near.length; b++) {
        const key = [i, near[a], near[b]].sort((m, n) => m - n);
        const name = key.join(' ');
        if (found.has(name)) continue;
        const sides = [0, 1, 2]
          .map((k) => ({ corner: key[k], side: far(key[(k + 1) % 3], key[(k + 2) % 3]) }))
          .sort((m, n) => n.side - m.side);
        const [p, q] = [sides[1].side / sides[0].side, sides[2].side / sides[0].side];
        if (q < 0.15 || p > 0.985 || p - q < 0.015 || p + q < 1.03) continue;
        const corners: [number, number, number] = [sides[0].corner, sides[1].corner, sides[2].corner];
        const [s, t, u] = corners.map((k) => stars[k]);
        const left = (t.x - s.x) * (u.y - s.y) - (t.y - s.y) * (u.x - s.x) > 0;
        found.set(name, { corners, p, q, left });
      }
    }
  }
  return [...found.values()];
}

/** Stars of a node of the tree: few enough to look through, and it stays shallow. */
const NODE = 16;

/** Stars in a tree, to find those near a point. */
export class StarTree {
  private readonly tree: KDBush;

  constructor(private readonly stars: readonly Pick<MatchStar, 'x' | 'y'>[]) {
    this.tree = new KDBush(stars.length, NODE);
    for (const { x, y } of stars) this.tree.add(x, y);
    this.tree.finish();
  }

  /** The nearest star within a radius. */
  nearest(x: number, y: number, radius: number): number | undefined {
    let best: number | undefined;
    let min = Number.POSITIVE_INFINITY;
    for (const k of this.tree.within(x, y, radius)) {
      const d = (this.stars[k].x - x) ** 2 + (this.stars[k].y - y) ** 2;
      if (d < min) {
        min = d;
        best = k;
      }
    }
    return best;
  }
}

/** The pairs that a map brings within a radius of each other; each star of the reference is taken once, by the nearest. */
export function pairStars(
  map: Affine,
  target: readonly MatchStar[],
  reference: readonly MatchStar[],
  grid: StarTree,
  radius: number,
): Pair[] {
  const taken = new Map<number, { pair: Pair; miss: number }>();
  for (const star of target) {
    const [x, y] = mapPoint(map, star.x, star.y);
    const k = grid.nearest(x, y, radius);
    if (k === undefined) continue;
    const other = reference[k];
    const miss = Math.hypot(other.x - x, other.y - y);
    const before = taken.get(k);
    if (!before || miss < before.miss)
      taken.set(k, { miss, pair: { x: star.x, y: star.y, u: other.x, v: other.y, weight: 1 } });
  }
  return [...taken.values()].map(({ pair }) => pair);
}

/** Chance that a Poisson number of mean μ reaches n. */
function chanceOf(mean: number, n: number): number {
  let term = Math.exp(-mean);
  let below = 0;
  for (let k = 0; k < n; k++) {
    below += term;
    term *= mean / (k + 1);
  }
  return Math.max(0, 1 - below);
}

/** A first map between two star fields, and whether it turns the picture over. */
export interface InitialMatch {
  readonly map: Affine;
  readonly mirrored: boolean;
  readonly matched: number;
}

/** Stars whose triangles are compared, and stars with which an estimate is tried. */
const COMPARED = [60, 140];
const TRIED = 300;
const RADIUS = 3;
/** A match that chance alone would bring once in so many runs is taken. */
const SURE = 1e-4;

/**
 * Finds how one star field lies on another, whatever their turn, scale, mirroring and overlap: triangles of near stars are compared, each
 * likeness gives a map, and the map under which most other stars meet wins, if chance could not have brought as many.
 * @param target stars, brightest first
 * @param reference stars, brightest first
 * @returns undefined where the two show no field in common
 */
export function matchFields(target: readonly MatchStar[], reference: readonly MatchStar[]): InitialMatch | undefined {
  const tried = { target: target.slice(0, TRIED), reference: reference.slice(0, TRIED) };
  const grid = new StarTree(tried.reference);
  const span = (k: 'x' | 'y') =>
    Math.max(...tried.reference.map((s) => s[k])) - Math.min(...tried.reference.map((s) => s[k]));
  const area = Math.max(100, span('x') * span('y'));
  const chance = (tried.target.length * tried.reference.length * Math.PI * RADIUS ** 2) / area;
  for (const compared of COMPARED) {
    const best = bestOf(target.slice(0, compared), reference.slice(0, compared), tried, grid);
    if (!best) continue;
    const { start, guesses } = best;
    // Three pairs made the map; the others speak for it.
    if (start.matched >= 5 && guesses * chanceOf(chance, start.matched - 3) < SURE) return start;
    if (Math.min(target.length, reference.length) <= compared) break;
  }
  return undefined;
}

function bestOf(
  target: readonly MatchStar[],
  reference: readonly MatchStar[],
  tried: { target: readonly MatchStar[]; reference: readonly MatchStar[] },
  grid: StarTree,
): { start: InitialMatch; guesses: number } | undefined {
  const theirs = triangles(reference).sort((a, b) => a.p - b.p);
  let best: InitialMatch | undefined;
  let guesses = 0;
  for (const mine of triangles(target)) {
    const low = partitionPoint(0, theirs.length, (at) => theirs[at].p >= mine.p - ALIKE);
    for (let k = low; k < theirs.length && theirs[k].p <= mine.p + ALIKE; k++) {
      if (Math.abs(theirs[k].q - mine.q) > ALIKE) continue;
      const mirrored = theirs[k].left !== mine.left;
      const pairs = mine.corners.map(
        (corner, c): Pair => ({
          x: target[corner].x,
          y: target[corner].y,
          u: reference[theirs[k].corners[c]].x,
          v: reference[theirs[k].corners[c]].y,
          weight: 1,
        }),
      );
      const map = fitTransform(pairs, 'similarity', mirrored);
      if (!map || Math.abs(determinant(map)) < 0.01 || Math.abs(determinant(map)) > 100) continue;
      guesses++;
      const matched = countUnder(map, tried.target, grid, best?.matched ?? 0);
      if (matched > (best?.matched ?? 0)) {
        best = { map, mirrored, matched };
        if (matched > 0.7 * Math.min(tried.target.length, tried.reference.length) && matched > 20)
          return { start: best, guesses };
      }
    }
  }
  return best && { start: best, guesses };
}

/** How many stars a map brings near one of the reference; stops where it cannot beat the best. */
function countUnder(map: Affine, target: readonly MatchStar[], grid: StarTree, best: number): number {
  let n = 0;
  for (let i = 0; i < target.length; i++) {
    const [x, y] = mapPoint(map, target[i].x, target[i].y);
    if (grid.nearest(x, y, RADIUS) !== undefined) n++;
    if (i === 40 && n < 4 && best > 10) return n;
    if (n + target.length - i <= best) return n;
  }
  return n;
}
