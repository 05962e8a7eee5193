import { medianOfSorted } from '@owl-loom/image/stats/median';
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
  return widths.length > 0 ? medianOfSorted(widths) : 0;
}

/** Finds the stars of a plane, once for all that want to know of them. */
export function detectStarField(values: Float32Array, width: number, height: number): StarField {
  const { stars, noise, beta, fwhm } = findStars(values, width, height);
  // Knots of gas that pass for stars must not decide on the width where a crowd of stars tells it.
  return { stars, fwhm: stars.some(isClean) ? fwhm || middleWidth(stars) : 0, noise, beta };
}

/** Count and median FWHM. */
export const starCountOf = ({ count, fwhm }: { count: number; fwhm: number }): StarCount => ({
  count,
  fwhm: fwhm > 0 ? fwhm : null,
});
