import { UserError } from '../errors';
import { isClean, type StarField } from '../stars/field';

/** How wide the stars of one plane are. */
export interface Seeing {
  /** Median full width at half maximum of unsaturated round stars, pixels. */
  readonly fwhm: number;
  readonly stars: number;
}

const FEWEST = 5;
const SIGMA_TO_FWHM = 2 * Math.sqrt(2 * Math.log(2));

/**
 * The width of a field's stars.
 * @throws UserError where too few can be seen
 */
export function seeingOf({ stars }: StarField): Seeing {
  const clean = stars.filter(isClean);
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
