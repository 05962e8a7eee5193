import { middleOfSorted } from '../stats/middle';
import { findStars, type Star } from './detect';

/** The stars of one plane, with what was measured on the way to them. */
export interface StarField {
  /** In rows from the foot. */
  readonly stars: readonly Star[];
  /** Median full width at half maximum of the unsaturated round ones well above the noise; 0 where none could be measured. */
  readonly fwhm: number;
  /** The plane's noise. */
  readonly noise: number;
  /** Wings of the stars' profile: Moffat's β, 20 where they are as good as none. */
  readonly beta: number;
}

/** How many stars there are and how wide they are in the middle. */
export interface StarCount {
  readonly count: number;
  /** Median, in pixels; null where no star could be measured. */
  readonly fwhm: number | null;
}

/** Unsaturated and round: stars whose shapes can be trusted. */
export const isClean = (star: Star): boolean => !star.saturated && star.round > 0.7;

/** Width of the brighter half of the clean stars; 0 where there are none. */
function middleWidth(stars: readonly Star[]): number {
  const clean = stars.filter(isClean).sort((a, b) => b.peak - a.peak);
  const widths = clean
    .slice(0, Math.max(20, Math.floor(clean.length / 2)))
    .map((star) => star.fwhm)
    .sort((a, b) => a - b);
  return widths.length > 0 ? middleOfSorted(widths) : 0;
}

const digits = (value: number, n: number): number => Number(value.toPrecision(n));

/** A star as it is kept: to no more digits than it can be known. */
const kept = (s: Star): Star => ({
  ...s,
  x: Math.round(s.x * 1e5) / 1e5,
  y: Math.round(s.y * 1e5) / 1e5,
  peak: digits(s.peak, 7),
  fwhm: digits(s.fwhm, 6),
  round: digits(s.round, 4),
  flux: digits(s.flux, 8),
  fluxError: digits(s.fluxError, 5),
});

/** Finds the stars of a plane, once for all that want to know of them. */
export function starField(values: Float32Array, width: number, height: number): StarField {
  const { stars: found, noise, beta } = findStars(values, width, height);
  const stars = found.map(kept);
  return { stars, fwhm: middleWidth(stars), noise, beta };
}

/** Count and median FWHM. */
export const countOf = ({ stars, fwhm }: StarField): StarCount => ({
  count: stars.length,
  fwhm: fwhm > 0 ? fwhm : null,
});
