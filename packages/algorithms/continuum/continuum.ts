import { UserError } from '@owl-loom/base/errors';
import { fractionBelowSky, sharesBelowSky } from './below-sky';
import { kFromStars } from './by-stars';
import type { ContinuumFit, ContinuumMethod } from './result';
import type { ContinuumInput } from './input';
import { kFromSkewness } from './skewness';

/**
 * Finds how much of the broadband image to take off the line image.
 * @throws UserError where there are too few stars, or the two are one image
 */
export function measureContinuum(input: ContinuumInput, method: ContinuumMethod): ContinuumFit {
  if (input.line.every((v, i) => v === input.broad[i] || (v !== v && input.broad[i] !== input.broad[i]))) {
    throw new UserError('continuum-itself', 'Line and broadband are the same image. Choose a broadband strand.');
  }
  const skew = method === 'skewness' ? kFromSkewness(input) : undefined;
  const stars = method === 'stars' ? kFromStars(input) : undefined;
  const k = stars?.k ?? skew?.k ?? 0;
  return {
    method,
    k,
    kError: stars?.kError ?? skew?.kError ?? 0,
    stars: stars?.stars ?? 0,
    belowSky: fractionBelowSky(input, k),
    starlit: skew?.starlit ?? true,
    pairs: stars?.pairs ?? [],
    curve: skew?.curve ?? [],
    shares: sharesBelowSky(input, k),
    spots: stars?.spots ?? [],
  };
}
