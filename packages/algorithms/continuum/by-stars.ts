import { UserError } from '@owl-loom/base/errors';
import { jackknifeError } from '../linear-fit/jackknife';
import { peaksAt } from '../stars/flat-top';
import { pairedPhotometry } from '../stars/photometry';
import { medianOfList } from '@owl-loom/image/stats/median';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import type { ContinuumFit, StarPair } from './result';
import type { ContinuumInput } from './input';
import { seeingOrFallback } from './seeing';

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
  lineSky,
  lineNoise,
  broadNoise,
  width,
  height,
}: ContinuumInput): { x: number; y: number; broad: number; line: number; broadError: number; lineError: number }[] {
  const stars = broadStars.stars
    .filter((star) => !star.saturated && star.round > 0.65 && star.flux > 15 * star.fluxError)
    .sort((a, b) => b.flux / b.fluxError - a.flux / a.fluxError)
    .slice(0, MOST);
  const top = saturationLevel(line);
  if (stars.length < FEWEST) return [];
  const own = seeingOrFallback(broadStars);
  const widths = [own.fwhm, seeingOrFallback(lineStars, own).fwhm] as const;
  const radii = radiiFor(...widths);
  const wide = Math.max(...widths);
  const noises = [broadNoise, lineNoise] as const;
  const { tops, ceiling } = peaksAt(line, width, height, stars, lineSky, noises[1]);
  const cut = Math.min(top, ceiling);
  return stars.flatMap((star, i) => {
    const [x, y] = [Math.round(star.x), Math.round(star.y)];
    if (!(tops[i] < cut)) return [];
    const found = pairedPhotometry(
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
export function kFromStars(input: ContinuumInput): Pick<ContinuumFit, 'k' | 'kError' | 'stars' | 'pairs' | 'spots'> {
  const all = starPairs(input);
  if (all.length < FEWEST) {
    throw new UserError(
      'continuum-few-stars',
      `${all.length === 0 ? 'No' : `Only ${all.length}`} usable ${all.length === 1 ? 'star' : 'stars'} in both images; ${FEWEST} are needed. Use skewness, or set k manually.`,
    );
  }
  const ratios = all.map((s) => s.line / s.broad);
  let k = medianOfList(ratios);
  let kept = all.map(() => true);
  let spread = 0;
  for (let round = 0; round < 20; round++) {
    const errors = all.map((s) => Math.hypot(s.lineError, k * s.broadError) / s.broad);
    const used = all.map((_, i) => i).filter((i) => kept[i]);
    const seen = 1.4826 * medianOfList(used.map((i) => Math.abs(ratios[i] - k)));
    const noise = medianOfList(used.map((i) => errors[i]));
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
