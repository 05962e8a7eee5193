import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { medianOfSorted } from '@owl-loom/image/stats/median';
import { type SharedProfile, type PlaneField, profileExtent, annulusWidth, type DetectedStar } from './shared-profile';
import { type Disc, collectDisc } from './disc';
import { aboveBackground, type LocalBackground, fitLocalBackground } from './local-background';
import { knotOfRadius, KNOTS, radiusAt, profileAt } from './radial-profile';

/** The light of one star in one plane, as it is taken off. */
export interface StarModel {
  readonly x: number;
  readonly y: number;
  /** Values by distance, in the image's units. */
  readonly table: Float64Array;
  /** It ends here. */
  readonly reach: number;
  /** The profile that it shares with others and how much of that it is; nothing where it has one of its own. */
  readonly shared?: { readonly common: SharedProfile; readonly height: number };
  /** What is left about it scatters so much, where there is no star. */
  readonly scatter: number;
}

/** How far a star may differ from the common profile, as a share of it: where it was measured, and in the wings that were not. */
const UNLIKE = { core: 0.05, wings: 0.4 } as const;
/** From this many noises on a star has a profile of its own. */
const OWN = 40;
/** Share of its reach over which a profile sinks to nothing. */
const FADE = 0.2;
const SECTORS = 8;
/** Times the common profile's width over which its height is fitted. */
const CORE = 1.2;

/** Lets a profile sink to nothing where it ends. */
export function taperProfile(table: Float64Array, reach: number): void {
  for (let k = 0; k < KNOTS; k++) table[k] *= smoothstep((1 - radiusAt(k) / reach) / FADE);
}

/** How a plane is seen when stars are fitted in it. */
export interface FitContext {
  readonly field: PlaneField;
  readonly common: SharedProfile;
  /** Whether no gap's filling may be brighter than the image was. */
  readonly held: boolean;
  /** Values from here on are cut off. */
  readonly ceiling: number;
}

/**
 * Fits a star in a plane from which its neighbours have been taken.
 * @param known what was found of it before; its place and height are made better
 * @returns undefined where there is too little around it to tell
 */
export function fitStarModel(star: DetectedStar, seen: FitContext, known?: StarModel): StarModel | undefined {
  const { field, common, ceiling } = seen;
  const { plane, width, height, noise, fwhm } = field;
  const reach = known?.reach ?? profileExtent(star.saturated ? 3 * star.peak : star.peak, field);
  const [x0, y0] = known ? [known.x, known.y] : [star.x, star.y];
  const disc = collectDisc(plane, width, height, x0, y0, reach + annulusWidth(reach), reach);
  const ground = fitLocalBackground(disc, noise);
  if (!ground) return undefined;
  const rings = star.saturated || star.peak > OWN * noise ? ringsOf(disc, ground, reach) : undefined;
  const cut = ceiling - ground.level;
  const at = star.saturated
    ? { height: rings ? heightOfCut(rings, common, cut, star.flux) : star.flux, dx: 0, dy: 0 }
    : heightOf(disc, ground, common, CORE * fwhm, backgroundUncertainty(ground));
  if (!(at.height > 0)) return undefined;
  const scaled = common.table.map((v) => v * at.height);
  const table = rings ? own(rings, scaled, seen, ground, reach) : scaled;
  taperProfile(table, reach);
  return {
    x: x0 + at.dx,
    y: y0 + at.dy,
    table,
    reach,
    ...(!rings && { shared: { common, height: at.height } }),
    scatter: ground.scatter,
  };
}

/** How far the level under a star may lie off the plane of its ring: gas bends. */
const backgroundUncertainty = ({ scatter, noise }: LocalBackground): number =>
  Math.sqrt(Math.max(0, scatter ** 2 - noise ** 2));

/**
 * Height and place by least squares over the core: the common profile, its slopes along both axes, and a level under it.
 * @param gas by how much that level may lie off nothing
 */
function heightOf(
  disc: Disc,
  ground: LocalBackground,
  { table }: SharedProfile,
  core: number,
  gas: number,
): { height: number; dx: number; dy: number } {
  // Sums of the unknowns: height, level, and height times the shift along x and y.
  let [n, pp, p1, pv, v1, xx, xv, yy, yv] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  const step = 0.25;
  for (let i = 0; i < disc.count; i++) {
    const r = disc.r[i];
    if (r > core) continue;
    const p = profileAt(table, r);
    const fall =
      (profileAt(table, Math.max(0, r - step)) - profileAt(table, r + step)) / (r < step ? r + step : 2 * step);
    const v = aboveBackground(disc, i, ground);
    const [sx, sy] = r > 1e-6 ? [(fall * disc.dx[i]) / r, (fall * disc.dy[i]) / r] : [0, 0];
    n++;
    pp += p * p;
    p1 += p;
    pv += p * v;
    v1 += v;
    xx += sx * sx;
    xv += sx * v;
    yy += sy * sy;
    yv += sy * v;
  }
  // A round profile and its slopes are square to each other, all but for where the pixels lie. The level is held by what gas allows.
  const held = gas > 0 ? (ground.scatter / gas) ** 2 : Number.POSITIVE_INFINITY;
  const across = held === Number.POSITIVE_INFINITY ? 0 : p1 / (n + held);
  const height = (pv - across * v1) / (pp - across * p1);
  const moved = (a: number, b: number): number =>
    a > 0 && height > 0 ? Math.max(-0.4, Math.min(0.4, b / a / height)) : 0;
  return { height, dx: moved(xx, xv), dy: moved(yy, yv) };
}

/** What a star looks like by distance: middles of rings and how sure they are. */
interface Rings {
  readonly middle: Float64Array;
  readonly variance: Float64Array;
}

function ringsOf(disc: Disc, ground: LocalBackground, reach: number): Rings {
  const lists = Array.from({ length: KNOTS * SECTORS }, (): number[] => []);
  for (let i = 0; i < disc.count; i++) {
    if (disc.r[i] > reach) continue;
    const k = Math.round(knotOfRadius(disc.r[i]));
    if (k >= KNOTS) continue;
    const turn = Math.atan2(disc.dy[i], disc.dx[i]) / (2 * Math.PI) + 1;
    lists[k * SECTORS + (Math.floor(turn * SECTORS) % SECTORS)].push(aboveBackground(disc, i, ground));
  }
  const middle = new Float64Array(KNOTS).fill(Number.NaN);
  const variance = new Float64Array(KNOTS).fill(Number.POSITIVE_INFINITY);
  for (let k = 0; k < KNOTS; k++) {
    const own = lists.slice(k * SECTORS, (k + 1) * SECTORS);
    const all = own.flat().sort((a, b) => a - b);
    if (all.length === 0) continue;
    const plain = (1.57 * ground.scatter ** 2) / all.length;
    const full = own.filter((list) => list.length >= 3);
    if (full.length < 6) {
      middle[k] = medianOfSorted(all);
      variance[k] = plain;
      continue;
    }
    // Of what lies around unevenly the sectors tell; the middle ones of them leave neighbours and spikes out.
    const parts = full.map((list) => medianOfSorted(list.sort((a, b) => a - b))).sort((a, b) => a - b);
    const core = parts.slice(1, -1);
    const mean = core.reduce((sum, v) => sum + v, 0) / core.length;
    const spread = core.reduce((sum, v) => sum + (v - mean) ** 2, 0) / Math.max(1, core.length - 1);
    middle[k] = mean;
    variance[k] = Math.max(plain, (1.5 * spread) / core.length);
  }
  return { middle, variance };
}

/** The height of a star whose top is cut off, from where it is not. */
function heightOfCut({ middle, variance }: Rings, { table }: SharedProfile, cut: number, start: number): number {
  const ratios: number[] = [];
  for (let k = 1; k < KNOTS && ratios.length < 9; k++) {
    const v = middle[k];
    if (!(v < 0.6 * cut) || !(v > 6 * Math.sqrt(variance[k])) || !(table[k] > 0)) continue;
    ratios.push(v / table[k]);
  }
  return ratios.length > 0 ? medianOfSorted(ratios.sort((a, b) => a - b)) : start;
}

/**
 * A star's own profile: its rings, and the common profile at its height, each as sure as it is. Gas about the star makes rings unsure, so
 * that it is not taken for a halo.
 */
function own(
  { middle, variance }: Rings,
  scaled: Float64Array,
  { common }: FitContext,
  ground: LocalBackground,
  reach: number,
): Float64Array {
  const gas = 0.5 * backgroundUncertainty(ground) ** 2;
  const table = scaled.slice();
  for (let k = 0; k < KNOTS && radiusAt(k) <= reach; k++) {
    if (middle[k] !== middle[k]) continue;
    const r = radiusAt(k);
    const unlike = r > common.sure ? UNLIKE.wings : UNLIKE.core;
    const before = (unlike * scaled[k]) ** 2 + 1e-30;
    const here = variance[k] + gas;
    table[k] = (middle[k] / here + scaled[k] / before) / (1 / here + 1 / before);
  }
  // Where no pixel lies, its neighbours tell: the shape in common would, but the star may have been cut off.
  const first = middle.findIndex((v) => !Number.isNaN(v));
  for (let k = 0; k < first; k++) table[k] = Math.min(1.3, scaled[k] / scaled[first]) * table[first];
  for (let k = first + 1; k < KNOTS && radiusAt(k) <= reach; k++)
    if (middle[k] !== middle[k]) table[k] = Math.min(1, scaled[k] / scaled[k - 1]) * table[k - 1];
  // Light falls outwards; the innermost knots are told by a pixel or two.
  table[0] = Math.max(table[0], table[1], table[2]);
  for (let k = 1; k < KNOTS; k++) table[k] = Math.max(0, Math.min(table[k], table[k - 1]));
  return table;
}
