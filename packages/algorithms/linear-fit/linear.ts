import { UserError } from '@owl-loom/base/errors';
import { fitLevels } from './levels';
import { SelectedPairs } from './selected-pairs';
import { type FitInput, type Line, type PairNoise, type PairSums, pairNoise } from './pairs';
import { type PixelFit, fitPixels } from './pixels';

export type FitMethod = 'auto' | 'pixels' | 'levels';

/** A linear fit: `a + b·target` matches the reference. Units: `a` and `scatter` those of the reference. */
export interface LinearFit {
  readonly method: 'pixels' | 'levels';
  readonly a: number;
  readonly b: number;
  readonly aError: number;
  readonly bError: number;
  /** Pearson's, of the pixels that the line through the pixels keeps. */
  readonly correlation: number;
  /** Root mean square of the reference about the line. */
  readonly scatter: number;
  readonly used: number;
  readonly rejected: number;
}

/** From this correlation on, `auto` takes two planes for one picture with noise. */
export const MIN_PIXEL_CORRELATION = 0.8;
const FEWEST = 16;

/** With more rejected pixels than this, they have got into the noise as well. */
const CONTAMINATED = 0.02;
/** Fewest noise samples (pixels whose whole 5x5 is kept) that are worth more than the first estimate. */
const FEWEST_CLEAN = 400;

/**
 * The line through the pixels. Outliers spoil the noise of almost every 5x5 that they touch, and with it the ratio on which the line
 * depends; where many were rejected, the noise is measured again without them and the line fitted anew.
 */
function throughPixels(pairs: SelectedPairs, noise: PairNoise, enough: number): PixelFit | undefined {
  const { input, count } = pairs;
  const first = fitPixels(pairs, noise, enough);
  if (
    !first ||
    count - first.used <= CONTAMINATED * count ||
    first.correlation < Math.max(MIN_PIXEL_CORRELATION / 2, enough - 0.05)
  ) {
    return first;
  }
  const { target, reference } = input;
  const keep = (i: number) => pairs.countsAt(i) && first.isInlier(target[i], reference[i]);
  const { samples, ...clean } = pairNoise(input, keep);
  return samples < FEWEST_CLEAN ? first : (fitPixels(pairs, clean, enough) ?? first);
}

/** How pairs lie about a line. */
function about(pairs: PairSums, line: Line): { correlation: number; scatter: number; used: number } {
  const { mx, my, sxx, sxy, syy } = pairs.moments();
  const square = syy - 2 * line.b * sxy + line.b ** 2 * sxx + (my - line.a - line.b * mx) ** 2;
  return { correlation: sxy / Math.sqrt(sxx * syy), scatter: Math.sqrt(Math.max(0, square)), used: pairs.n };
}

/**
 * Finds the line that brings the target to the reference's brightness.
 * @throws UserError where too few pixels count, or one of the two is constant
 */
export function linearFit(input: FitInput, method: FitMethod = 'auto'): LinearFit {
  const pairs = new SelectedPairs(input);
  const { count } = pairs;
  if (count < FEWEST) {
    throw new UserError(
      'fit-no-pixels',
      `Only ${count} usable pixels in common (finite, unsaturated, inside the region and range): enlarge the region or raise “ignore above”.`,
    );
  }
  if (!pairs.varies('target'))
    throw new UserError(
      'fit-constant',
      'The image is constant in this region: no fit possible. Choose another region.',
    );
  if (!pairs.varies('reference'))
    throw new UserError(
      'fit-constant',
      'The reference is constant in this region: no fit possible. Choose another reference or region.',
    );

  const noise = pairNoise(input);
  const found =
    method === 'levels' ? undefined : throughPixels(pairs, noise, method === 'auto' ? MIN_PIXEL_CORRELATION : 0);
  if (found && (method === 'pixels' || found.correlation >= MIN_PIXEL_CORRELATION)) {
    const { isInlier: _, ...line } = found;
    return { method: 'pixels', ...line, rejected: count - line.used };
  }
  if (method === 'pixels') throw new UserError('fit-unlike', 'The two images are not correlated. Use method “levels”.');
  const levels = fitLevels(pairs, noise);
  if (!levels)
    throw new UserError(
      'fit-no-spread',
      'One of the two images has no signal above its noise: no fit possible. Choose another strand or region.',
    );
  const { all, ...line } = levels;
  const plain = about(all, line);
  const correlation = found?.correlation ?? plain.correlation;
  return { method: 'levels', ...line, correlation, scatter: plain.scatter, used: plain.used, rejected: 0 };
}
