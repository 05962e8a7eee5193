import { UserError } from '../errors';
import { jackknifeError } from '../fit/jackknife';
import { middleOf } from '../stats/middle';
import { saturationOf } from '../stats/saturation';
import { skyOf } from '../stats/sky';
import type { StarField } from '../stars/field';
import { GAUSSIAN } from '../stars/profile';
import { topsAt } from '../stars/flat-top';
import { photometerPair } from '../stars/photometry';
import { gaussian } from '../scales/gaussian';
import { shareBelowSky, sharesBelowSky } from './below-sky';
import type { ContinuumInput } from './input';
import { type Seeing, seeingOf, widening } from './seeing';

export type ContinuumMethod = 'stars' | 'skewness';

/** A star's light in both images, their units, with errors and whether the slope kept it. */
export type StarPair = readonly [broad: number, line: number, broadError: number, lineError: number, kept: 0 | 1];

/** How much of a broadband image a line image holds. */
export interface Continuum {
  readonly method: ContinuumMethod;
  readonly k: number;
  readonly kError: number;
  /** Stars used; 0 by skewness. */
  readonly stars: number;
  /** Share of pixels of `N − k·(C − sky)` below its sky − 3 noise: a thousandth is what noise alone gives, much more tells of too great a k. */
  readonly belowSky: number;
  /** False where gas, not starlight, makes up most of the line image's bright pixels, so that skewness may turn elsewhere. */
  readonly starlit: boolean;
  /** Stars for the plot, the brightest few hundred; empty by skewness. */
  readonly pairs: readonly StarPair[];
  /** Skewness of what is left at each k, for the plot. */
  readonly curve: readonly (readonly [k: number, skewness: number])[];
  /** The share below the sky at other k, about, so that one sees at once what a k by hand does. */
  readonly shares: readonly (readonly [k: number, share: number])[];
  /** Places of a few bright stars, in the images' pixels, to look at what is left of them; empty by skewness. */
  readonly spots: readonly (readonly [x: number, y: number])[];
}

/** The seeing of an image; where its own stars are too few to tell, that of the other. */
function seeingIn(field: StarField, other?: Seeing): Seeing {
  try {
    return seeingOf(field);
  } catch (fault) {
    if (fault instanceof UserError && other !== undefined) return other;
    throw fault;
  }
}

const FEWEST = 6;
/** Stars that are compared: the clearest ones, which tell k as well as all of them. */
const MOST = 3000;
const PLOTTED = 400;
/** Parts of the picture across, for the error of k. */
const PARTS = 5;
const SPOTS = 6;

/** Widths that differ by less than their own errors are one. */
const SAME_WIDTH = 0.04;

/** Radii of the circles in the broadband and the line image: of 1.6 FWHM each, so that both hold the same share of a star's light. */
function radiiFor(broad: number, line: number): readonly [number, number] {
  const alike = Math.abs(line / broad - 1) < SAME_WIDTH;
  const of = (fwhm: number) => Math.max(2.5, 1.6 * fwhm);
  return alike ? [of((broad + line) / 2), of((broad + line) / 2)] : [of(broad), of(line)];
}

/** Fluxes of the broadband image's stars in both images, each in an aperture that fits its own seeing, so that both hold the same share. */
function starPairs({
  line,
  broad,
  lineStars,
  broadStars,
  width,
  height,
}: ContinuumInput): { x: number; y: number; broad: number; line: number; broadError: number; lineError: number }[] {
  const stars = broadStars.stars
    .filter((star) => !star.saturated && star.round > 0.65 && star.flux > 15 * star.fluxError)
    .sort((a, b) => b.flux / b.fluxError - a.flux / a.fluxError)
    .slice(0, MOST);
  const top = saturationOf(line);
  if (stars.length < FEWEST) return [];
  const own = seeingIn(broadStars);
  const widths = [own.fwhm, seeingIn(lineStars, own).fwhm] as const;
  const radii = radiiFor(...widths);
  const wide = Math.max(...widths);
  const noises = [broadStars.noise, lineStars.noise] as const;
  const { tops, ceiling } = topsAt(line, width, height, stars, skyOf(line).sky, noises[1]);
  const cut = Math.min(top, ceiling);
  return stars.flatMap((star, i) => {
    const [x, y] = [Math.round(star.x), Math.round(star.y)];
    if (!(tops[i] < cut)) return [];
    const found = photometerPair(
      [broad, line],
      width,
      height,
      star.x,
      star.y,
      radii,
      Math.max(5, 2.4 * wide),
      Math.max(8, 4 * wide),
      noises,
    );
    if (!found) return [];
    const [c, n] = found;
    if (!(c.flux > 15 * c.fluxError)) return [];
    return [{ x, y, broad: c.flux, line: n.flux, broadError: c.fluxError, lineError: n.fluxError }];
  });
}

/**
 * The ratio of star fluxes, robustly: each star's ratio weighted by its errors and by the scatter that colours of stars bring, those more
 * than 3 σ off left out until none is.
 */
function byStars(input: ContinuumInput): Pick<Continuum, 'k' | 'kError' | 'stars' | 'pairs' | 'spots'> {
  const all = starPairs(input);
  if (all.length < FEWEST) {
    throw new UserError(
      'continuum-few-stars',
      `${all.length === 0 ? 'no' : `only ${all.length}`} unsaturated stars stand clear in both images, and ${FEWEST} are needed to find k by stars; choose skewness, or set k by hand.`,
    );
  }
  const ratios = all.map((s) => s.line / s.broad);
  let k = middleOf(ratios);
  let kept = all.map(() => true);
  let spread = 0;
  for (let round = 0; round < 20; round++) {
    const errors = all.map((s) => Math.hypot(s.lineError, k * s.broadError) / s.broad);
    const used = all.map((_, i) => i).filter((i) => kept[i]);
    const seen = 1.4826 * middleOf(used.map((i) => Math.abs(ratios[i] - k)));
    const noise = middleOf(used.map((i) => errors[i]));
    spread = Math.sqrt(Math.max(0, seen ** 2 - noise ** 2));
    const weights = errors.map((e) => 1 / (e * e + spread * spread + 1e-12 * k * k));
    const sum = used.reduce((s, i) => s + weights[i], 0);
    const next = used.reduce((s, i) => s + weights[i] * ratios[i], 0) / sum;
    const keep = ratios.map((r, i) => (r - next) ** 2 * weights[i] <= 9);
    const settled = Math.abs(next - k) <= 1e-9 * Math.abs(next) && keep.every((v, i) => v === kept[i]);
    k = next;
    if (keep.filter(Boolean).length >= FEWEST) kept = keep;
    if (settled) break;
  }
  const weights = all.map(
    (s) => 1 / (Math.hypot(s.lineError, k * s.broadError) ** 2 / s.broad ** 2 + spread * spread + 1e-12 * k * k),
  );
  const used = all.map((_, i) => i).filter((i) => kept[i]);
  const sum = used.reduce((s, i) => s + weights[i], 0);
  // What the weights promise, or what the scatter shows, whichever is worse.
  const promised = 1 / Math.sqrt(sum);
  const shown =
    (Math.sqrt(used.reduce((s, i) => s + (weights[i] * (ratios[i] - k)) ** 2, 0)) / sum) *
    Math.sqrt(used.length / Math.max(1, used.length - 1));
  // Gas under the stars is alike in one part of the picture: leaving out part after part tells what that does to k.
  const part = (s: { x: number; y: number }) =>
    Math.floor((PARTS * s.x) / input.width) + PARTS * Math.floor((PARTS * s.y) / input.height);
  const parts = Array.from({ length: PARTS * PARTS }, (_, p) => used.filter((i) => part(all[i]) !== p));
  const held = parts.filter((rest) => rest.length < used.length && rest.length > 0);
  const without = held.map((rest) => {
    const weight = rest.reduce((s, i) => s + weights[i], 0);
    return rest.reduce((s, i) => s + weights[i] * ratios[i], 0) / weight;
  });
  const spreadOut = without.length > 1 ? jackknifeError(without) : 0;
  const pairs = all
    .map((s, i): StarPair => [s.broad, s.line, s.broadError, s.lineError, kept[i] ? 1 : 0])
    .sort((a, b) => b[0] - a[0])
    .slice(0, PLOTTED);
  const spots = [...all]
    .sort((a, b) => b.broad - a.broad)
    .slice(0, SPOTS)
    .map(({ x, y }): [number, number] => [x, y]);
  return { k, kError: Math.max(promised, shown, spreadOut), stars: used.length, pairs, spots };
}

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
function tileSums({ line, broad, width, height }: ContinuumInput): Float64Array[] {
  const [topN, topC] = [saturationOf(line), saturationOf(broad)];
  const [skyN, skyC] = [skyOf(line).sky, skyOf(broad).sky];
  const tiles = Array.from({ length: TILES * TILES }, () => new Float64Array(10));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!(line[i] < topN && broad[i] < topC)) continue;
      const n = line[i] - skyN;
      const c = broad[i] - skyC;
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

/** Skewness of `N − k·C`, from the moments of the two. */
function skewnessAt(m: Moments, k: number): number {
  const third = m.nnn - 3 * k * m.nnc + 3 * k * k * m.ncc - k ** 3 * m.ccc;
  const second = m.nn - 2 * k * m.nc + k * k * m.cc;
  return second > 0 ? third / second ** 1.5 : 0;
}

/**
 * Where the skewness of what is left turns (Hong, Calzetti & Dickinson 2014). Starlight leaves `(k₀ − k)³` times its own third moment, so
 * the third moment of the remainder bends over at the true k₀, at `E[n·c²] / E[c³]`; noise, being even, does not move that point, as it
 * does the turn of the ratio to the second moment.
 */
function bySkewness(input: ContinuumInput): Pick<Continuum, 'k' | 'kError' | 'starlit' | 'curve'> {
  const b = seeingIn(input.broadStars);
  const a = seeingIn(input.lineStars, b);
  const rect = { x: 0, y: 0, width: input.width, height: input.height };
  // Cubes of sharp stars weigh more than those of soft ones: both are looked at under one seeing. What cubes weigh, cores and wings
  // together, is brought to one better by the squares of the widths than by the widths at half maximum.
  const to = (plane: Float32Array, from: Seeing, wide: Seeing) =>
    wide.fwhm > 1.01 * from.fwhm
      ? gaussian(plane, rect, widening({ fwhm: from.fwhm, beta: GAUSSIAN }, wide.fwhm), rect)
      : plane;
  const tiles = tileSums({ ...input, line: to(input.line, a, b), broad: to(input.broad, b, a) });
  const total = new Float64Array(10);
  for (const tile of tiles) for (let i = 0; i < 10; i++) total[i] += tile[i];
  const m = momentsOf(total);
  if (!(m.ccc > 0))
    throw new UserError(
      'continuum-no-stars',
      'the broadband image shows no starlight that stands out, so its skewness tells nothing; set k by hand.',
    );
  const k = m.ncc / m.ccc;
  const without = tiles.map((tile) => {
    const w = momentsOf(total.map((v, i) => v - tile[i]));
    return w.ncc / w.ccc;
  });
  const mean = without.reduce((s, v) => s + v, 0) / without.length;
  const kError = Math.sqrt(((without.length - 1) / without.length) * without.reduce((s, v) => s + (v - mean) ** 2, 0));
  const curve = Array.from({ length: 81 }, (_, i): [number, number] => [(i / 40) * k, skewnessAt(m, (i / 40) * k)]);
  return { k, kError, starlit: k ** 3 * m.ccc > 0.5 * m.nnn, curve };
}

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
