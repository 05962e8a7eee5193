import { UserError } from '../errors';
import { findStars } from '../stars/detect';

/** How wide the stars of one plane are. */
export interface Seeing {
  /** Median full width at half maximum of unsaturated round stars, pixels. */
  readonly fwhm: number;
  readonly stars: number;
}

const FEWEST = 5;
const SIGMA_TO_FWHM = 2 * Math.sqrt(2 * Math.log(2));

/**
 * Measures the width of the stars.
 * @throws UserError where too few can be seen
 */
export function seeingOf(values: Float32Array, width: number, height: number): Seeing {
  const clean = findStars(values, width, height).filter((star) => !star.saturated && star.round > 0.7);
  if (clean.length < FEWEST)
    throw new UserError(
      'few-stars',
      `only ${clean.length} clear stars can be seen here, too few to measure the seeing; choose another strand, or blur by hand.`,
    );
  // Widths of faint stars are mostly noise.
  const bright = clean
    .sort((a, b) => b.flux / b.fluxError - a.flux / a.fluxError)
    .slice(0, Math.max(20, Math.floor(clean.length / 2)));
  const widths = bright.map((star) => star.fwhm).sort((a, b) => a - b);
  return { fwhm: widths[widths.length >> 1], stars: clean.length };
}

/** σ of the Gaussian that widens stars of one width to another; 0 where they are as wide already. */
export const widening = (from: number, to: number): number =>
  Math.sqrt(Math.max(0, to ** 2 - from ** 2)) / SIGMA_TO_FWHM;
