import { UserError } from '@owl-loom/base/errors';
import { bisect } from '../linear-fit/bisect';
import { jackknifeError } from '../linear-fit/jackknife';
import { gaussian } from '@owl-loom/image/scales/gaussian';
import { GAUSSIAN } from '../stars/profile';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import type { ContinuumFit } from './result';
import type { ContinuumInput } from './input';
import { type Seeing, seeingOrFallback, matchingBlurSigma } from './seeing';

/** Central moments of two images together, up to the third. */
interface Moments {
  readonly nn: number;
  readonly nc: number;
  readonly cc: number;
  readonly nnn: number;
  readonly nnc: number;
  readonly ncc: number;
  readonly ccc: number;
}

function momentsOf(sums: Float64Array): Moments {
  const [m, n, c, nn, nc, cc, nnn, nnc, ncc, ccc] = sums;
  const [a, b] = [n / m, c / m];
  return {
    nn: nn / m - a * a,
    nc: nc / m - a * b,
    cc: cc / m - b * b,
    nnn: nnn / m - 3 * a * (nn / m) + 2 * a ** 3,
    nnc: nnc / m - 2 * a * (nc / m) - b * (nn / m) + 2 * a * a * b,
    ncc: ncc / m - 2 * b * (nc / m) - a * (cc / m) + 2 * a * b * b,
    ccc: ccc / m - 3 * b * (cc / m) + 2 * b ** 3,
  };
}

const TILES = 8;

/** Sums for the moments, tile by tile, of the pixels that are there and unsaturated in both; about the skies, to keep their digits. */
function tileSums({ line, broad, lineSky, broadSky, width, height }: ContinuumInput): Float64Array[] {
  const [topN, topC] = [saturationLevel(line), saturationLevel(broad)];
  const tiles = Array.from({ length: TILES * TILES }, () => new Float64Array(10));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!(line[i] < topN && broad[i] < topC)) continue;
      const n = line[i] - lineSky;
      const c = broad[i] - broadSky;
      const t = tiles[Math.floor((y * TILES) / height) * TILES + Math.floor((x * TILES) / width)];
      t[0]++;
      t[1] += n;
      t[2] += c;
      t[3] += n * n;
      t[4] += n * c;
      t[5] += c * c;
      t[6] += n * n * n;
      t[7] += n * n * c;
      t[8] += n * c * c;
      t[9] += c * c * c;
    }
  }
  return tiles;
}

/** Third moment of `N − k·C`, from the moments of the two. */
const thirdAt = (m: Moments, k: number): number => m.nnn - 3 * k * m.nnc + 3 * k * k * m.ncc - k ** 3 * m.ccc;

/** Skewness of `N − k·C`. */
function skewnessAt(m: Moments, k: number): number {
  const second = m.nn - 2 * k * m.nc + k * k * m.cc;
  return second > 0 ? thirdAt(m, k) / second ** 1.5 : 0;
}

/** The k at which the third moment of what is left is nought: above `from` where gas is left there, which is skewed upwards itself. */
function thirdMomentRoot(m: Moments, from: number): number {
  // The cubic falls everywhere but about its bend, where it may be flat: halving finds its root whatever its shape.
  let [low, high] = [-Math.abs(from), 3 * Math.abs(from)];
  while (thirdAt(m, high) > 0 && high < 1e6) high *= 2;
  while (thirdAt(m, low) < 0 && low > -1e6) low *= 2;
  return bisect(low, high, (k) => !(thirdAt(m, k) > 0), 60);
}

/**
 * Where the skewness of what is left turns (Hong, Calzetti & Dickinson 2014). Starlight leaves `(k₀ − k)³` times its own third moment, so
 * the third moment of the remainder bends over at the true k₀, at `E[n·c²] / E[c³]`; noise, being even, does not move that point, as it
 * does the turn of the ratio to the second moment.
 */
export function kFromSkewness(input: ContinuumInput): Pick<ContinuumFit, 'k' | 'kError' | 'starlit' | 'curve'> {
  const b = seeingOrFallback(input.broadStars);
  const a = seeingOrFallback(input.lineStars, b);
  const rect = { x: 0, y: 0, width: input.width, height: input.height };
  // Cubes of sharp stars weigh more than those of soft ones: both are looked at under one seeing. What cubes weigh, cores and wings
  // together, is brought to one better by the squares of the widths than by the widths at half maximum.
  const to = (plane: Float32Array, from: Seeing, wide: Seeing) =>
    wide.fwhm > 1.01 * from.fwhm
      ? gaussian(plane, rect, matchingBlurSigma({ fwhm: from.fwhm, beta: GAUSSIAN }, wide.fwhm), rect)
      : plane;
  const tiles = tileSums({ ...input, line: to(input.line, a, b), broad: to(input.broad, b, a) });
  const total = new Float64Array(10);
  for (const tile of tiles) for (let i = 0; i < 10; i++) total[i] += tile[i];
  const m = momentsOf(total);
  if (!(m.ccc > 0))
    throw new UserError('continuum-no-stars', 'Too little starlight for skewness. Use stars, or set k manually.');
  const k = m.ncc / m.ccc;
  const without = tiles.map((tile) => {
    const w = momentsOf(total.map((v, i) => v - tile[i]));
    return w.ncc / w.ccc;
  });
  // Gas that lies where the stars lie shifts k by E[g·c²] / E[c³], which by Hölder is at most the cube root of E[g³] / E[c³]: about how far
  // from k the plain third moment is nought. Nothing in the two images tells how much of that it is.
  const kError = Math.hypot(jackknifeError(without), thirdMomentRoot(m, k) - k);
  const curve = Array.from({ length: 81 }, (_, i): [number, number] => [(i / 40) * k, skewnessAt(m, (i / 40) * k)]);
  return { k, kError, starlit: k ** 3 * m.ccc > 0.5 * m.nnn, curve };
}
