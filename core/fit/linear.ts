import { UserError } from '../errors';
import { fitLevels } from './levels';
import { type FitInput, type Line, type PairNoise, PairSums, countedPixels, pairNoise } from './pairs';
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
export const ALIKE = 0.8;
const FEWEST = 16;

/** With more rejected pixels than this, they have got into the noise as well. */
const CONTAMINATED = 0.02;
/** Fewest noise samples (pixels whose whole 5x5 is kept) that are worth more than the first estimate. */
const FEWEST_CLEAN = 400;

/**
 * The line through the pixels. Outliers spoil the noise of almost every 5x5 that they touch, and with it the ratio on which the line
 * depends; where many were rejected, the noise is measured again without them and the line fitted anew.
 */
function throughPixels(input: FitInput, mask: Uint8Array, count: number, noise: PairNoise): PixelFit | undefined {
  const first = fitPixels(input, mask, count, noise);
  if (!first || count - first.used <= CONTAMINATED * count || first.correlation < ALIKE / 2) return first;
  const keep = mask.map((counts, i) => (counts && first.keeps(input.target[i], input.reference[i]) ? 1 : 0));
  const { samples, ...clean } = pairNoise(input, keep);
  return samples < FEWEST_CLEAN ? first : (fitPixels(input, mask, count, clean) ?? first);
}

function varies(mask: Uint8Array, of: Float32Array): boolean {
  let first = Number.NaN;
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    if (Number.isNaN(first)) first = of[i];
    else if (of[i] !== first) return true;
  }
  return false;
}

function about(input: FitInput, mask: Uint8Array, line: Line): { correlation: number; scatter: number; used: number } {
  const sums = new PairSums();
  let squares = 0;
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    sums.add(input.target[i], input.reference[i]);
    squares += (input.reference[i] - line.a - line.b * input.target[i]) ** 2;
  }
  const { sxx, sxy, syy } = sums.moments();
  return { correlation: sxy / Math.sqrt(sxx * syy), scatter: Math.sqrt(squares / sums.n), used: sums.n };
}

/**
 * Finds the line that brings the target to the reference's brightness.
 * @throws UserError where too few pixels count, or one of the two is constant
 */
export function linearFit(input: FitInput, method: FitMethod = 'auto'): LinearFit {
  const { mask, count } = countedPixels(input);
  if (count < FEWEST) {
    throw new UserError(
      'fit-no-pixels',
      `The two images share only ${count} usable pixels (finite, unsaturated, inside the region and range), too few for a linear fit; widen the region or the range, or check that they overlap.`,
    );
  }
  if (!varies(mask, input.target))
    throw new UserError(
      'fit-constant',
      'The image to be fitted is the same everywhere, so no slope can be found; choose another strand or region.',
    );
  if (!varies(mask, input.reference))
    throw new UserError(
      'fit-constant',
      'The reference is the same everywhere, so no slope can be found; choose another reference or region.',
    );

  const noise = pairNoise(input);
  const found = method === 'levels' ? undefined : throughPixels(input, mask, count, noise);
  if (found && (method === 'pixels' || found.correlation >= ALIKE)) {
    const { keeps: _, ...line } = found;
    return { method: 'pixels', ...line, rejected: count - line.used };
  }
  if (method === 'pixels')
    throw new UserError(
      'fit-unlike',
      'The two images have nothing in common that a line through their pixels could follow; fit by levels instead.',
    );
  const levels = fitLevels(input, mask, noise);
  if (!levels)
    throw new UserError(
      'fit-no-spread',
      'One of the two images shows no signal above its noise, so their spreads cannot be matched; choose another strand or region.',
    );
  const plain = about(input, mask, levels);
  const correlation = found?.correlation ?? plain.correlation;
  return { method: 'levels', ...levels, correlation, scatter: plain.scatter, used: plain.used, rejected: 0 };
}
