import { median } from '../stats/quantile';
import { jackknifeError, tileGrid } from './jackknife';
import { type FitInput, type Line, type PairNoise, PairSums, deming } from './pairs';
import { startLines } from './start';

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
  readonly keeps: (target: number, reference: number) => boolean;
}

/** How much a slope may still be wrong while the clipping closes in; bright pixels must not be thrown out for it. */
const CLOSING_IN = [0.3, 0.15, 0.08, 0.04, 0.02, 0.01, 0, 0, 0, 0, 0, 0];
/** Rounds over every pixel, once the line has come in on a part of them. */
const FULL_ROUNDS = [0, 0, 0, 0];
const SAMPLE = 120_000;

/**
 * Fits `a + b·target` to the reference by Deming's method with 3σ orthogonal clipping. It starts from the medians of small blocks, all of
 * them and all but the brightest or faintest, and goes on with the start that ends in the likeliest line: a bright patch that only one
 * image has would otherwise lead it astray.
 * @param mask 1 where a pixel counts
 */
export function fitPixels(input: FitInput, mask: Uint8Array, count: number, noise: PairNoise): PixelFit | undefined {
  const ratio = noiseRatio(noise);
  const origin = originOf(input, mask);
  const stride = Math.max(1, Math.floor(count / SAMPLE));
  const sample = sampleOf(mask, count, stride);

  /** One round of clipping and fitting; undefined where the clipping has lost its way. */
  const round = (line: Line, leverage: number, rowStep: number): Found | undefined => {
    const { centre, sigma } = residualSpread(input, sample, line, origin);
    const { tiles, total } = clippedSums(input, mask, line, origin, { centre, reach: 3 * sigma, leverage, rowStep });
    if (total.n < Math.max(3, (0.05 * count) / rowStep)) return undefined;
    const next = deming(total, ratio);
    if (!next) return undefined;
    const keeps = (u: number, v: number) =>
      Math.abs(v - origin.y - line.a - line.b * (u - origin.x) - centre) <= 3 * sigma;
    return { line: next, tiles, total, keeps, moved: Math.abs(next.b - line.b) / Math.abs(next.b) };
  };
  const rounds = (start: Line, leverages: readonly number[], rowStep: number, settled: number): Found | undefined => {
    let best: Found | undefined;
    for (const leverage of leverages) {
      const next = round(best?.line ?? start, leverage, rowStep);
      if (!next) break;
      best = next;
      if (leverage === 0 && next.moved <= settled) break;
    }
    return best;
  };

  const rowStep = Math.max(1, Math.floor(stride / 2));
  const lines = startLines(input, mask, ratio, origin).flatMap(
    (start) => rounds(start, CLOSING_IN, rowStep, 1e-4)?.line ?? [],
  );
  if (lines.length === 0) return undefined;
  const costs = lines.map((line) => cost(input, sample, line, origin, noise));
  const found = rounds(lines[costs.indexOf(Math.min(...costs))], FULL_ROUNDS, 1, 1e-6);
  return found && describe(found, ratio, ratioError(count), origin);
}

/**
 * How unlikely a line is by the measured noise: the mean of squared residuals in units of the noise about the line, no pixel counting for
 * more than 3σ, and the logarithm of that noise, so that a steep line gains nothing by the room that it gives itself.
 */
function cost(
  input: FitInput,
  sample: Int32Array,
  line: Line,
  origin: { x: number; y: number },
  noise: PairNoise,
): number {
  const variance = Math.max(noise.reference ** 2 + (line.b * noise.target) ** 2, 1e-24);
  let sum = 0;
  for (let k = 0; k < sample.length; k++) {
    const i = sample[k];
    const r = input.reference[i] - origin.y - line.a - line.b * (input.target[i] - origin.x);
    sum += Math.min(9, (r * r) / variance);
  }
  return sum / sample.length + Math.log(variance);
}

/** Sums over the pixels near a line, tile by tile. Leverage widens the reach with the distance from the origin. */
function clippedSums(
  input: FitInput,
  mask: Uint8Array,
  line: Line,
  origin: { x: number; y: number },
  { centre, reach, leverage, rowStep }: { centre: number; reach: number; leverage: number; rowStep: number },
): { tiles: PairSums[]; total: PairSums } {
  const { reference, target, width, height } = input;
  const grid = tileGrid(width, height);
  const tiles = Array.from({ length: grid.count }, () => new PairSums());
  const fixed = reach * reach;
  const widening = (leverage * line.b) ** 2;
  for (let y = 0; y < height; y += rowStep) {
    for (let x0 = 0; x0 < width; x0 += grid.tileWidth) {
      const end = y * width + Math.min(width, x0 + grid.tileWidth);
      let [n, x, v, xx, xv, vv] = [0, 0, 0, 0, 0, 0];
      for (let i = y * width + x0; i < end; i++) {
        if (!mask[i]) continue;
        const p = target[i] - origin.x;
        const q = reference[i] - origin.y;
        const r = q - line.a - line.b * p - centre;
        if (r * r > fixed + widening * p * p) continue;
        n++;
        x += p;
        v += q;
        xx += p * p;
        xv += p * q;
        vv += q * q;
      }
      tiles[grid.indexOf(x0, y)].addSums(n, x, v, xx, xv, vv);
    }
  }
  return { tiles, total: tiles.reduce((sum, tile) => sum.merge(tile), new PairSums()) };
}

interface Found {
  readonly line: Line;
  readonly tiles: PairSums[];
  readonly total: PairSums;
  readonly keeps: PixelFit['keeps'];
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
    keeps: fit.keeps,
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
function originOf(input: FitInput, mask: Uint8Array): { x: number; y: number } {
  const xs: number[] = [];
  const ys: number[] = [];
  const step = Math.max(1, Math.floor(mask.length / 20000));
  for (let i = 0; i < mask.length; i += step) {
    if (mask[i]) {
      xs.push(input.target[i]);
      ys.push(input.reference[i]);
    }
  }
  if (xs.length === 0) return { x: 0, y: 0 };
  return { x: median(Float32Array.from(xs)), y: median(Float32Array.from(ys)) };
}

/** Indices of every `stride`-th counted pixel. */
function sampleOf(mask: Uint8Array, count: number, stride: number): Int32Array {
  const out = new Int32Array(Math.ceil(count / stride));
  let seen = 0;
  let n = 0;
  for (let i = 0; i < mask.length; i++) if (mask[i] && seen++ % stride === 0) out[n++] = i;
  return out.subarray(0, n);
}

/** Median and spread (1.4826 × MAD) of the reference about the line. */
function residualSpread(
  input: FitInput,
  sample: Int32Array,
  line: Line,
  origin: { x: number; y: number },
): { centre: number; sigma: number } {
  const residuals = new Float32Array(sample.length);
  for (let k = 0; k < sample.length; k++) {
    const i = sample[k];
    residuals[k] = input.reference[i] - origin.y - line.a - line.b * (input.target[i] - origin.x);
  }
  const centre = median(residuals);
  for (let i = 0; i < residuals.length; i++) residuals[i] = Math.abs(residuals[i] - centre);
  return { centre, sigma: 1.4826 * median(residuals) };
}
