import { LRUCache } from 'lru-cache';
import { UserError } from '@owl-loom/base/errors';
import { bisect } from '../linear-fit/bisect';
import { isClean, type StarField } from '../stars/field';
import { moffat } from '../stars/moffat';
import { GAUSSIAN } from '../stars/profile';
import { SIGMA_TO_FWHM } from '../stars/shape';

/** How wide the stars of one plane are. */
export interface Seeing {
  /** Median full width at half maximum of unsaturated round stars, pixels. */
  readonly fwhm: number;
  readonly stars: number;
  /** Wings of their profile: Moffat's β. */
  readonly beta: number;
}

const FEWEST = 5;

/**
 * The width of a field's stars.
 * @throws UserError where too few can be seen
 */
export function measureSeeing({ stars, fwhm, beta }: StarField): Seeing {
  const clean = stars.filter(isClean);
  if (clean.length < FEWEST)
    throw new UserError(
      'few-stars',
      `Only ${clean.length} usable ${clean.length === 1 ? 'star' : 'stars'}, too few to measure the FWHM. Choose another strand, or use a blur step.`,
    );
  return { fwhm, stars: clean.length, beta };
}

/** Points across a profile, and how far it is looked at, in units of its half width. */
const POINTS = 33;
const REACH = 6;

/**
 * How high a round profile of half width 1, given by distance, smoothed by a Gaussian of σ, stands at a distance from its middle; up
 * to one factor.
 */
function smoothedAt(distance: number, sigma: number, profile: (r: number) => number): number {
  const step = (2 * REACH) / (POINTS - 1);
  let sum = 0;
  for (let j = 0; j < POINTS; j++) {
    const v = j * step - REACH;
    for (let i = 0; i < POINTS; i++) {
      const u = i * step - REACH;
      sum += profile(Math.sqrt(u * u + v * v)) * Math.exp(-((u - distance) ** 2 + v * v) / (2 * sigma * sigma));
    }
  }
  return sum;
}

/**
 * σ of the Gaussian that widens stars of one width to another; 0 where they are as wide already. Of Gaussian stars their squares add up;
 * wings make a smoothed star wider than that.
 * @param from width and wings of the sharper stars
 */
export function matchingBlurSigma(from: Pick<Seeing, 'fwhm' | 'beta'>, to: number): number {
  const plain = Math.sqrt(Math.max(0, to ** 2 - from.fwhm ** 2)) / SIGMA_TO_FWHM;
  if (plain === 0 || from.beta >= GAUSSIAN) return plain;
  // A step asks for the same again with every window.
  const name = `${from.fwhm} ${from.beta} ${to}`;
  const known = lately.get(name);
  if (known !== undefined) return known;
  // In units of half the sharper width: the σ at which the smoothed profile is at half its height where the wider stars are.
  const unit = from.fwhm / 2;
  const half = to / 2 / unit;
  const profile = moffat(2, from.beta);
  const wide = (sigma: number) => smoothedAt(half, sigma, profile) >= smoothedAt(0, sigma, profile) / 2;
  const sigma = bisect(0.3 * (plain / unit), plain / unit, wide) * unit;
  lately.set(name, sigma);
  return sigma;
}

/** Share of a star's height that a Gaussian of σ pixels leaves of it. */
export function peakAfterBlur({ fwhm, beta }: Pick<Seeing, 'fwhm' | 'beta'>, sigma: number): number {
  if (sigma === 0) return 1;
  const width = fwhm / SIGMA_TO_FWHM;
  if (beta >= GAUSSIAN) return width ** 2 / (width ** 2 + sigma ** 2);
  const own = sigma / (fwhm / 2);
  // The mean of the profile under the Gaussian: two sums over the same points.
  return smoothedAt(0, own, moffat(2, beta)) / smoothedAt(0, own, () => 1);
}

const lately = new LRUCache<string, number>({ max: 200 });

/** The seeing of an image; where its own stars are too few to tell, that of the other. */
export function seeingOrFallback(field: StarField, other?: Seeing): Seeing {
  try {
    return measureSeeing(field);
  } catch (error) {
    if (error instanceof UserError && other !== undefined) return other;
    throw error;
  }
}
