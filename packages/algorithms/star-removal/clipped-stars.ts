import { apertureFor } from '../stars/photometry';
import type { StarField } from '../stars/field';
import { medianOfList } from '@owl-loom/image/stats/median';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import { buildSharedProfile, type PlaneField, annulusWidth } from './shared-profile';
import { type Disc, collectDisc } from './disc';
import { type BrightPatch, brightPatches } from './bright-patches';
import { aboveBackground, type LocalBackground, fitLocalBackground } from './local-background';
import { KNOTS, radiusAt, profileAt } from './radial-profile';

/** A star whose top was cut off: what it would have shown by its distance is `height` times the profile that all stars of its plane share. */
export interface ClippedStar {
  readonly x: number;
  readonly y: number;
  readonly height: number;
  /** Where it was cut, over what it stands on. */
  readonly cut: number;
  /** From here on it is as it was. */
  readonly reach: number;
}

/** The cut-off stars of one plane, in rows from the foot. */
export interface ClippedStars {
  /** The shared profile by distance, at the knots of `./table`. */
  readonly table: readonly number[];
  readonly stars: readonly ClippedStar[];
}

/** Fewest pixels of a top that is flat. */
const FEWEST = 2;
/** A flat patch longer than this is more than one star, where it has so many pixels that its shape says anything. */
const LONG = 1.4;
const SHAPED = 6;
/** Beyond a patch by so many pixels none is partly cut; and over so many, or full widths, its wings tell the height. */
const BEYOND = 0.8;
const WINGS = { pixels: 3, widths: 0.8 } as const;
/** The wings must stand so many noises clear. */
const CLEAR = 6;
const SECTORS = 8;

/** How far below the middle one a star may have been cut: gradients that were taken off have spread them. */
const SPREAD = 0.93;

/** The value from which tops count as cut; infinity where none was. */
function ceilingIn(plane: Float32Array, stars: StarField['stars'], width: number): number {
  const tops = stars
    .filter(({ saturated }) => saturated)
    .map(({ x, y }) => plane[Math.round(y) * width + Math.round(x)])
    .filter((v) => v === v);
  return Math.min(saturationLevel(plane), tops.length > 0 ? SPREAD * medianOfList(tops) : Number.POSITIVE_INFINITY);
}

/**
 * Finds how high the stars of a plane stood that were cut off, from their wings: those just beyond the cut, over the profile of the stars
 * that were not.
 */
export function reconstructClippedStars(
  plane: Float32Array,
  width: number,
  height: number,
  found: StarField,
): ClippedStars {
  const { stars, fwhm, noise, beta } = found;
  const ceiling = ceilingIn(plane, stars, width);
  if (!(fwhm > 0) || ceiling === Number.POSITIVE_INFINITY) return { table: [], stars: [] };
  const field: PlaneField = { plane, width, height, noise, fwhm, beta };
  const ranked = stars.filter(({ saturated }) => !saturated).sort((a, b) => b.flux - a.flux);
  const { table } = buildSharedProfile(field, ranked, apertureFor(fwhm).radius);
  const cut = brightPatches(plane, width, height, ceiling).flatMap((flat) => topOf(field, flat, table) ?? []);
  return { table: [...table], stars: cut.sort((a, b) => a.y - b.y) };
}

function topOf(field: PlaneField, { x, y, pixels, long }: BrightPatch, table: Float64Array): ClippedStar | undefined {
  const { plane, width, height, noise, fwhm } = field;
  const edge = Math.sqrt(pixels / Math.PI);
  if (pixels < FEWEST || (pixels >= SHAPED && long > LONG)) return undefined;
  const from = edge + BEYOND;
  const wings = Math.max(WINGS.pixels, WINGS.widths * fwhm);
  const reach = from + wings + fwhm;
  const disc = collectDisc(plane, width, height, x, y, reach + annulusWidth(reach), reach);
  const ground = fitLocalBackground(disc, noise);
  if (!ground) return undefined;
  const cut = cutOf(disc, ground, edge);
  const tall = heightBy(disc, ground, table, from, from + wings);
  if (tall === undefined || tall * profileAt(table, from) < CLEAR * noise || tall * table[0] <= cut) return undefined;
  return { x, y, height: tall, cut, reach: reachOf(table, tall, cut) };
}

/** Where it was cut: the middle of its flat pixels. */
function cutOf(disc: Disc, ground: LocalBackground, edge: number): number {
  const values: number[] = [];
  for (let i = 0; i < disc.count; i++)
    if (disc.r[i] <= Math.max(0.8, edge - 0.5)) values.push(aboveBackground(disc, i, ground));
  return medianOfList(values);
}

/**
 * How often the profile a star is, by least squares over a ring in sectors, of which the middle one counts: that leaves neighbours and
 * spikes out, and a middle that lies a little off. Undefined where too few sectors are whole.
 */
function heightBy(
  disc: Disc,
  ground: LocalBackground,
  table: Float64Array,
  from: number,
  to: number,
): number | undefined {
  const [above, squares, counts] = [0, 1, 2].map(() => new Float64Array(SECTORS));
  for (let i = 0; i < disc.count; i++) {
    const r = disc.r[i];
    if (r < from || r > to) continue;
    const turn = Math.atan2(disc.dy[i], disc.dx[i]) / (2 * Math.PI) + 1;
    const sector = Math.floor(turn * SECTORS) % SECTORS;
    const value = profileAt(table, r);
    above[sector] += value * aboveBackground(disc, i, ground);
    squares[sector] += value * value;
    counts[sector]++;
  }
  const heights = [...above.keys()].filter((k) => counts[k] >= 3 && squares[k] > 0).map((k) => above[k] / squares[k]);
  return heights.length > SECTORS / 2 ? medianOfList(heights) : undefined;
}

/** Where the profile comes down to the cut. */
function reachOf(table: Float64Array, tall: number, cut: number): number {
  let k = 1;
  while (k < KNOTS - 1 && tall * table[k] > cut) k++;
  return radiusAt(k);
}

/** What a cut-off star lacks at a distance from its middle. */
export const missingLight =
  ({ height, cut }: Pick<ClippedStar, 'height' | 'cut'>, table: readonly number[]) =>
  (radius: number): number =>
    Math.max(0, height * profileAt(table, radius) - cut);
