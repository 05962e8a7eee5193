import { medianOfSorted } from '@owl-loom/image/stats/median';
import { partitionPoint } from '@owl-loom/image/stats/sorted';
import { BETAS, fitProfile, GAUSSIAN, NARROW, type PIXEL_SAMPLING } from './profile';
import { SIGMA_TO_FWHM } from './shape';

/** A peak with a shape, before it is known what the field's stars look like. */
export interface PeakShape {
  readonly x: number;
  readonly y: number;
  /** σ along the longer and the shorter axis. */
  readonly long: number;
  readonly short: number;
  /** Height over the level about it, in units of the noise. */
  readonly snr: number;
  readonly localSky: number;
}

/** What stars look like in a field. */
export interface FieldPsf {
  /** σ of their moments, in the middle. */
  readonly sigma: number;
  /** What brings a width by moments to a full width at half maximum, wings and all. */
  readonly toFwhm: number;
  /** Shorter over longer axis, in the middle. */
  readonly round: number;
  /** Wings of the profile that fits best: Moffat's β. */
  readonly beta: number;
}

/** Stars of one field differ in width by no more than this share, but for noise. */
const ALIKE = 0.09;
/** Peaks whose height is so many times the noise tell their width to a few hundredths. */
const CLEAR = 25;
/** Fewest alike ones that make a crowd, and the share of the largest crowd that a sharper one must have. */
const FEWEST = 4;
const SHARE = 0.22;
/** Stars whose profile is fitted. */
const FITTED = 40;
/** How much the width counts that narrow stars have where each pixel shows the light at its middle. */
const AS_POINTS = 0.6;

const widthOf = (star: PeakShape): number => Math.sqrt((star.long ** 2 + star.short ** 2) / 2);

/**
 * A crowd that stands out has at least so many members, twice as many as are just above or just below it in width, and they are round. The
 * clearer its members, the better they tell their width: clear ones are tried by a narrow spread of logarithms first.
 */
const MEMBERS = 5;
/** The least part of all detections that is no clump of chance. */
const PART = 0.015;
const TIMES = 2;
const ROUND = 0.75;
const TRIES = [
  { clear: 15, spread: 0.08 },
  { clear: 9, spread: 0.13 },
] as const;

/**
 * The sharpest crowd of detections of one width: knots of gas have all widths, stars one. First one that stands out from what is a little
 * wider, however few it is; faint and blended stars of a large crowd make none, since more lie above them. Else the first that is not small
 * beside the largest.
 */
function densestWidthCluster(seen: readonly PeakShape[]): PeakShape[] {
  for (const { clear, spread } of TRIES) {
    const crowd = distinctCrowd(
      seen.filter((star) => star.snr > clear),
      spread,
    );
    if (crowd) return crowd;
  }
  const clear = seen.filter((star) => star.snr > CLEAR);
  return largeCrowd(clear.length >= 2 * FEWEST ? clear : seen);
}

/** Detections by width, and for each how many are as wide as it or up to a spread of logarithms wider, and how many up to twice that. */
function byWidth(seen: readonly PeakShape[], spread: number) {
  const widths = seen.map((star) => ({ star, log: Math.log(widthOf(star)) })).sort((a, b) => a.log - b.log);
  const logs = widths.map(({ log }) => log);
  const upTo = (wider: number): number[] => {
    let j = 0;
    return logs.map((log, i) => {
      while (j < logs.length && logs[j] <= log + wider) j++;
      return j - i;
    });
  };
  return { sorted: widths.map(({ star }) => star), logs, counts: upTo(spread), twice: upTo(2 * spread) };
}

function distinctCrowd(seen: readonly PeakShape[], spread: number): PeakShape[] | undefined {
  const { sorted, logs, counts, twice } = byWidth(seen, spread);
  const standsOut = (i: number): boolean => {
    const beside = Math.max(twice[i] - counts[i], i - partitionPoint(0, i, (at) => logs[at] >= logs[i] - spread));
    // What is narrower than stars is few; else these are the blends of a crowded field.
    return counts[i] >= Math.max(MEMBERS, PART * sorted.length, i) && counts[i] >= TIMES * beside;
  };
  for (let i = 0; i < sorted.length; i++) {
    if (!standsOut(i)) continue;
    let at = i;
    for (let k = i; k < sorted.length && logs[k] <= logs[i] + spread / 2; k++)
      if (standsOut(k) && counts[k] > counts[at]) at = k;
    const crowd = sorted.slice(at, at + counts[at]);
    if (medianOfSorted(crowd.map((star) => star.short / star.long).sort((a, b) => a - b)) >= ROUND) return crowd;
  }
  return undefined;
}

function largeCrowd(seen: readonly PeakShape[]): PeakShape[] {
  const { sorted, logs, counts } = byWidth(seen, 2 * ALIKE);
  const max = Math.max(0, ...counts);
  const enough = Math.max(FEWEST, SHARE * max);
  let first = counts.findIndex((n) => n >= enough);
  if (first < 0) return [];
  // From where a crowd begins to where it is densest.
  for (let i = first; i < sorted.length && logs[i] <= logs[first] + 2 * ALIKE; i++)
    if (counts[i] > counts[first]) first = i;
  return sorted.slice(first, first + counts[first]);
}

/**
 * How the stars of a field look: from the sharpest crowd of alike peaks among the clear ones, and a profile fitted to its brightest.
 * @returns undefined where no crowd can be told
 */
export function estimateFieldPsf(
  values: Float32Array,
  width: number,
  height: number,
  seen: readonly PeakShape[],
): FieldPsf | undefined {
  const crowd = densestWidthCluster(seen);
  if (crowd.length === 0) return undefined;
  const middle = (of: (star: PeakShape) => number) => medianOfSorted(crowd.map(of).sort((a, b) => a - b));
  const sigma = middle(widthOf);
  const { fwhm, beta } = profileOf(values, width, height, crowd);
  return { sigma, round: middle((star) => star.short / star.long), toFwhm: fwhm / sigma, beta };
}

/** Full width at half maximum of a crowd in the middle, by the wings that fit its stars best. */
function profileOf(
  values: Float32Array,
  width: number,
  height: number,
  crowd: readonly PeakShape[],
): { fwhm: number; beta: number } {
  const bright = [...crowd].sort((a, b) => b.snr - a.snr).slice(0, FITTED);
  const sigma = medianOfSorted(crowd.map(widthOf).sort((a, b) => a - b));
  const fitted = (pixel: keyof typeof PIXEL_SAMPLING): { fwhm: number; beta: number } | undefined => {
    let best: { misfit: number; fwhm: number; beta: number } | undefined;
    let rising = 0;
    for (const beta of BETAS) {
      const fits = bright.flatMap((star) => {
        const start = { x: star.x, y: star.y, sigma, level: star.localSky };
        return fitProfile(values, width, height, start, beta, pixel) ?? [];
      });
      if (2 * fits.length < bright.length) continue;
      const widths = fits.map((fit) => (fit.long + fit.short) / 2).sort((a, b) => a - b);
      // Logarithms: of bright stars wrong wings show, and a few blended ones must not decide.
      const misfit = fits.reduce((sum, fit) => sum + Math.log(fit.misfit), 0) / fits.length;
      if (!best || misfit < best.misfit) best = { misfit, fwhm: medianOfSorted(widths), beta };
      // It falls towards the wings that fit, and rises after them.
      else if (++rising > 1) break;
    }
    return best;
  };
  const point = fitted('point') ?? { fwhm: SIGMA_TO_FWHM * sigma, beta: GAUSSIAN };
  if (sigma >= NARROW) return point;
  // Narrow stars do not tell whether their light was summed over each pixel: wings and pixel look alike. The truth lies between.
  const square = fitted('square') ?? point;
  return { fwhm: AS_POINTS * point.fwhm + (1 - AS_POINTS) * square.fwhm, beta: square.beta };
}

/** Whether a peak looks as the field's stars do; faint ones may be off by as much as their noise makes them. */
export function matchesFieldPsf(star: PeakShape, look: FieldPsf, saturated: boolean): boolean {
  const ratio = widthOf(star) / look.sigma;
  const round = star.short / star.long;
  const loose = Math.min(0.45, 0.25 + 4 / Math.max(1, star.snr));
  // What is cut off at the top is wider than it would be.
  if (saturated) return ratio > 0.7 && ratio < 4 && round > 0.4;
  return ratio > 1 - loose && ratio < 1 + 1.3 * loose && round > Math.min(0.85, look.round) * (0.75 - loose / 2);
}

/** Full width at half maximum of a star in a field. */
export const fwhmFromMoments = (star: PeakShape, look: FieldPsf): number => widthOf(star) * look.toFwhm;
