import { UserError } from '../errors';
import { shareBelowSky, sharesBelowSky } from './below-sky';
import { byStars } from './by-stars';
import type { Continuum, ContinuumMethod } from './found';
import type { ContinuumInput } from './input';
import { bySkewness } from './skewness';

/**
 * Finds how much of the broadband image to take off the line image.
 * @throws UserError where there are too few stars, or the two are one image
 */
export function measureContinuum(input: ContinuumInput, method: ContinuumMethod): Continuum {
  if (input.line.every((v, i) => v === input.broad[i] || (v !== v && input.broad[i] !== input.broad[i]))) {
    throw new UserError(
      'continuum-itself',
      'the broadband image is the line image itself, so nothing would be left; name a broadband strand.',
    );
  }
  const skew = method === 'skewness' ? bySkewness(input) : undefined;
  const stars = method === 'stars' ? byStars(input) : undefined;
  const k = stars?.k ?? skew?.k ?? 0;
  return {
    method,
    k,
    kError: stars?.kError ?? skew?.kError ?? 0,
    stars: stars?.stars ?? 0,
    belowSky: shareBelowSky(input, k),
    starlit: skew?.starlit ?? true,
    pairs: stars?.pairs ?? [],
    curve: skew?.curve ?? [],
    shares: sharesBelowSky(input, k),
    spots: stars?.spots ?? [],
  };
}
