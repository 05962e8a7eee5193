import { medianInPlace, medianMadInPlace } from '@owl-loom/image/stats/quickselect';
import type { SelectedPairs } from './selected-pairs';
import { jackknifeError } from './jackknife';
import { deming, type Line, type PairNoise, PairSums } from './pairs';
import { initialLines } from './initial-lines';

/** A line through the pixels, with how well it holds. */
export interface PixelFit extends Line {
  readonly aError: number;
  readonly bError: number;
  /** Pearson's, of the pixels used. */
  readonly correlation: number;
  /** Root mean square of the reference about the line, in the reference's units. */
  readonly scatter: number;
  readonly used: number;
  /** Whether the fit kept a pixel with these values. */
  readonly isInlier: (target: number, reference: number) => boolean;
}

/** How much a slope may still be wrong while the clipping closes in; bright pixels must not be thrown out for it. */
const CLOSING_IN = [0.3, 0.15, 0.08, 0.04, 0.02, 0.01, 0, 0, 0, 0, 0, 0];
/** Rounds over every pixel, once the line has come in on a part of them. */
const FULL_ROUNDS = [0, 0, 0, 0];
const SAMPLE = 120_000;
/** Pairs that tell the scatter while the line comes in. */
const COMING_IN = 30_000;

/**
 * Fits `a + b·target` to the reference by Deming's method with 3σ orthogonal clipping. It starts from the medians of small blocks, all of
 * them and all but the brightest or faintest, and goes on with the start that ends in the likeliest line: a bright patch that only one
 * image has would otherwise lead it astray.
 * @param enough the correlation from which on the line is wanted; one that falls well short of it is not made finer
 */
export function fitPixels(pairs: SelectedPairs, noise: PairNoise, enough = 0): PixelFit | undefined {
  const { count } = pairs;
  const ratio = noiseRatio(noise);
  const origin = originOf(pairs);
  const stride = Math.max(1, Math.floor(count / SAMPLE));
  const indices = sampleOf(pairs, stride);
  if (indices.length === 0) return undefined;
  const { target, reference } = pairs.input;
  const sample: Sample = {
    xs: Float64Array.from(indices, (i) => target[i] - origin.x),
    ys: Float64Array.from(indices, (i) => reference[i] - origin.y),
  };
  const finest = finestReach(sample, origin);
  const some = thinned(sample);

  /** One round of clipping and fitting; undefined where the clipping has lost its way. */
  const round = (line: Line, leverage: number, rowStep: number, sample: Sample): Found | undefined => {
    const { centre, sigma } = residualSpread(sample, line);
    // Exact pictures have residuals of the last digit alone.
    const reach = Math.max(3 * sigma, finest);
    const { tiles, total } = pairs.sumsNearLine({ line, centre, reach, widening: leverage * line.b }, origin, rowStep);
    if (total.n < Math.max(3, (0.05 * count) / rowStep)) return undefined;
    const next = deming(total, ratio);
    if (!next) return undefined;
    const isInlier = (u: number, v: number) =>
      Math.abs(v - origin.y - line.a - line.b * (u - origin.x) - centre) <= reach;
    return { line: next, tiles, total, isInlier, moved: Math.abs(next.b - line.b) / Math.abs(next.b) };
  };
  const rounds = (
    start: Line,
    leverages: readonly number[],
    rowStep: number,
    sample: Sample,
    settled: number,
  ): Found | undefined => {
    let best: Found | undefined;
    for (const leverage of leverages) {
      const next = round(best?.line ?? start, leverage, rowStep, sample);
      if (!next) break;
      best = next;
      if (leverage === 0 && next.moved <= settled) break;
    }
    return best;
  };

  const rowStep = Math.max(1, Math.floor(stride / 2));
  const found = initialLines(pairs, ratio, origin).flatMap(
    (start) => rounds(start, CLOSING_IN, rowStep, some, 1e-4) ?? [],
  );
  if (found.length === 0) return undefined;
  const costs = found.map(({ line }) => cost(sample, line, noise));
  const best = found[costs.indexOf(Math.min(...costs))];
  const describeFit = (fit: Found) => describe(fit, ratio, ratioError(count), origin);
  // A part of the rows tells the correlation well enough where it is far from what is asked.
  if (describeFit(best).correlation < enough - UNSURE) return describeFit(best);
  const whole = rounds(best.line, FULL_ROUNDS, 1, sample, 1e-6);
  return whole && describeFit(whole);
}

/** How far the correlation of a part of the rows may be from that of all. */
const UNSURE = 0.05;

/** Pairs of a part of the pixels, about an origin: what is gone through round by round lies together. */
interface Sample {
  readonly xs: Float64Array;
  readonly ys: Float64Array;
}

/** About {@link COMING_IN} pairs of a sample. */
function thinned(sample: Sample): Sample {
  const step = Math.floor(sample.xs.length / COMING_IN);
  if (step < 2) return sample;
  const every = (values: Float64Array) =>
    Float64Array.from({ length: Math.floor(values.length / step) }, (_, k) => values[k * step]);
  return { xs: every(sample.xs), ys: every(sample.ys) };
}

/** Residuals that rounding alone can leave. */
function finestReach({ xs, ys }: Sample, origin: { x: number; y: number }): number {
  let largest = Math.max(Math.abs(origin.x), Math.abs(origin.y));
  for (let k = 0; k < xs.length; k++) largest = Math.max(largest, Math.abs(xs[k]), Math.abs(ys[k]));
  return 5e-7 * largest;
}

/**
 * How unlikely a line is by the measured noise: the mean of squared residuals in units of the noise about the line, no pixel counting for
 * more than 3σ, and the logarithm of that noise, so that a steep line gains nothing by the room that it gives itself.
 */
function cost({ xs, ys }: Sample, line: Line, noise: PairNoise): number {
  const variance = Math.max(noise.reference ** 2 + (line.b * noise.target) ** 2, 1e-24);
  let sum = 0;
  for (let k = 0; k < xs.length; k++) {
    const r = ys[k] - line.a - line.b * xs[k];
    sum += Math.min(9, (r * r) / variance);
  }
  return sum / xs.length + Math.log(variance);
}

interface Found {
  readonly line: Line;
  readonly tiles: readonly PairSums[];
  readonly total: PairSums;
  readonly isInlier: PixelFit['isInlier'];
  /** How far the slope moved in this round, relative to itself. */
  readonly moved: number;
}

function describe(fit: Found, ratio: number, ratioSigma: number, origin: { x: number; y: number }): PixelFit {
  const { line, tiles, total } = fit;
  const { sxx, sxy, syy, mx, my } = total.moments();
  const lines = tiles
    .filter((tile) => tile.n > 0)
    .map((tile) => deming(new PairSums().merge(total).merge(tile, -1), ratio))
    .filter((l): l is Line => l !== undefined);
  const shift = (l: Line) => l.a + origin.y - l.b * origin.x;
  // The noise ratio is itself measured; what its error does to the line is added to what the pixels' own scatter does.
  const high = deming(total, ratio * (1 + ratioSigma)) ?? line;
  const residual = syy - 2 * line.b * sxy + line.b ** 2 * sxx + (my - line.a - line.b * mx) ** 2;
  return {
    a: shift(line),
    b: line.b,
    aError: Math.hypot(jackknifeError(lines.map(shift)), shift(high) - shift(line)),
    bError: Math.hypot(jackknifeError(lines.map((l) => l.b)), high.b - line.b),
    correlation: sxx > 0 && syy > 0 ? sxy / Math.sqrt(sxx * syy) : 0,
    scatter: Math.sqrt(Math.max(0, residual)),
    used: total.n,
    isInlier: fit.isInlier,
  };
}

/** Relative error of the ratio of two variances, each from a MAD over the pixels (efficiency 0.37). */
const ratioError = (count: number): number => 2 * Math.SQRT2 * Math.sqrt(1 / (2 * 0.37 * Math.max(1, count)));

/** Variance of the reference's noise over the target's; 1 where neither has any. */
function noiseRatio({ target: x, reference: y }: PairNoise): number {
  if (x > 0 && y > 0) return (y / x) ** 2;
  // A noiseless plane takes no share of the scatter: an extreme ratio turns the fit into plain least squares on the other.
  if (x > 0) return 1e-12;
  return y > 0 ? 1e12 : 1;
}

/** A point in the middle of the data: sums about it keep their digits. */
function originOf(pairs: SelectedPairs): { x: number; y: number } {
  const { target, reference } = pairs.input;
  const some = sampleOf(pairs, Math.max(1, Math.floor(target.length / 20_000)));
  if (some.length === 0) return { x: 0, y: 0 };
  const middle = (plane: Float32Array) => medianInPlace(Float32Array.from(some, (i) => plane[i]));
  return { x: middle(target), y: middle(reference) };
}

/** Indices of about every `stride`-th counted pixel, scattered so that they keep out of the columns of the picture. */
function sampleOf(pairs: SelectedPairs, stride: number): Int32Array {
  const { length } = pairs.input.target;
  const out = new Int32Array(Math.ceil(length / stride));
  let n = 0;
  for (let k = 0; k * stride < length; k++) {
    const i = k * stride + ((Math.imul(k, 40503) & 0xffff) % stride);
    if (i < length && pairs.countsAt(i)) out[n++] = i;
  }
  return out.subarray(0, n);
}

/** Median and spread (1.4826 × MAD) of the reference about the line. */
function residualSpread({ xs, ys }: Sample, line: Line): { centre: number; sigma: number } {
  const residuals = new Float32Array(xs.length);
  for (let k = 0; k < residuals.length; k++) residuals[k] = ys[k] - line.a - line.b * xs[k];
  const { middle, sigma } = medianMadInPlace(residuals);
  return { centre: middle, sigma };
}
