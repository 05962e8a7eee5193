import { planeNoise } from '@owl-loom/image/stats/noise';
import { argsortDescending } from '@owl-loom/image/stats/order';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import { fwhmFromMoments, type FieldPsf, estimateFieldPsf, matchesFieldPsf, type PeakShape } from './field-psf';
import { clippingLevel, flatTop } from './flat-top';
import { findPeaks, type Peak } from './peaks';
import { apertureFor, aperturePhotometryAll } from './photometry';
import { GAUSSIAN } from './profile';
import { SIGMA_TO_FWHM, shapesOf } from './shape';

/** A star as measured on one plane. Positions in pixels, centres at whole numbers. */
export interface Star {
  readonly x: number;
  readonly y: number;
  /** Greatest value above the local sky. */
  readonly peak: number;
  /** Full width at half maximum, in pixels: the mean of both axes. */
  readonly fwhm: number;
  /** Shorter over longer axis, 0 to 1. */
  readonly round: number;
  readonly saturated: boolean;
  /** Light in an aperture of 1.4 FWHM over the local sky, and its error; see packages/algorithms/stars/photometry. */
  readonly flux: number;
  readonly fluxError: number;
}

/** What is found in a plane. */
interface Found {
  readonly stars: Star[];
  readonly noise: number;
  /** Wings of the field's profile: Moffat's β. */
  readonly beta: number;
  /** Full width at half maximum that the field's crowd of stars tells; 0 where there is none. */
  readonly fwhm: number;
}

/** A star's light must be so many times its error. */
const SURE = 4;
/** Two peaks nearer than this share of the width are one star seen twice. */
const APART = 0.7;
/** Points of a ring about a peak, well outside its core. */
const RING = Array.from({ length: 16 }, (_, i) => {
  const a = (i * Math.PI) / 8;
  return [Math.round(9 * Math.cos(a)), Math.round(9 * Math.sin(a))] as const;
});

interface Candidate extends PeakShape {
  readonly top: number;
  readonly flat: boolean;
  readonly saturated: boolean;
}

/** A peak that lifts its neighbours, its brightest pixel, and the level about it. */
interface Bump extends Pick<Peak, 'x' | 'y'> {
  readonly base: number;
  readonly at: ReturnType<typeof brightestPixel>;
}

const ring = new Float64Array(RING.length);

/** What lies about a peak: the middle of a ring around it, and its upper quarter, which a filament lifts where it crosses the ring twice. */
function ringLevels(
  plane: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
): { middle: number; upper: number } | undefined {
  let n = 0;
  for (let k = 0; k < RING.length; k++) {
    const [i, j] = [x + RING[k][0], y + RING[k][1]];
    const v = i >= 0 && j >= 0 && i < width && j < height ? plane[j * width + i] : Number.NaN;
    if (v !== v) continue;
    // So few are sorted as they come.
    let at = n++;
    for (; at > 0 && ring[at - 1] > v; at--) ring[at] = ring[at - 1];
    ring[at] = v;
  }
  return n < RING.length / 2 ? undefined : { middle: ring[n >> 1], upper: ring[Math.floor(0.75 * n)] };
}

/** The brightest pixel of the 3x3, and how much all nine hold together above a level. */
function brightestPixel(values: Float32Array, width: number, { x, y }: Peak, base: number) {
  let [top, tx, ty, sum] = [Number.NEGATIVE_INFINITY, x, y, 0];
  for (let j = y - 1; j <= y + 1; j++) {
    for (let i = x - 1; i <= x + 1; i++) {
      const v = values[j * width + i];
      if (v !== v) continue;
      sum += v - base;
      if (v > top) [top, tx, ty] = [v, i, j];
    }
  }
  return { top, x: tx, y: ty, sum };
}

/** A profile that falls from its middle outwards, as that of a defocused star, a ring with a hole, does not. */
function decreasesOutwards(
  values: Float32Array,
  width: number,
  height: number,
  star: { x: number; y: number },
  sigma: number,
): boolean {
  const reach = Math.ceil(1.5 * sigma + 1);
  const near = Math.max(0.75, 0.6 * sigma);
  const [from, to] = [Math.max(1, 1.1 * sigma), Math.max(2, 1.8 * sigma)];
  let [inner, n, outer, m] = [0, 0, 0, 0];
  for (let j = Math.round(star.y) - reach; j <= star.y + reach; j++) {
    for (let i = Math.round(star.x) - reach; i <= star.x + reach; i++) {
      if (i < 0 || j < 0 || i >= width || j >= height) continue;
      const v = values[j * width + i];
      const r2 = (i - star.x) ** 2 + (j - star.y) ** 2;
      if (v !== v) continue;
      if (r2 <= near * near) {
        inner += v;
        n++;
      } else if (r2 >= from * from && r2 <= to * to) {
        outer += v;
        m++;
      }
    }
  }
  return n === 0 || m === 0 || inner / n > outer / m;
}

/** Peaks with a shape that could be a star's. */
function candidates(
  values: Float32Array,
  width: number,
  height: number,
  noise: number,
  threshold: number,
): Candidate[] {
  const { peaks, smoothed } = findPeaks(values, width, height, threshold);
  const ceiling = saturationLevel(values);
  const bumps: Bump[] = [];
  for (const peak of peaks) {
    const around = ringLevels(smoothed, width, height, peak.x, peak.y);
    const own = smoothed[peak.y * width + peak.x];
    if (!around || own - around.upper < 0.25 * (own - around.middle)) continue;
    const base = around.middle;
    const at = brightestPixel(values, width, peak, base);
    const over = at.top - base;
    // One bright pixel alone is a hot pixel; a star lifts its neighbours.
    if (over > 0 && at.sum >= 1.35 * over) bumps.push({ x: peak.x, y: peak.y, base, at });
  }
  const shapes = shapesOf(values, width, height, bumps);
  const found: Candidate[] = [];
  for (let k = 0; k < bumps.length; k++) {
    const { base, at } = bumps[k];
    const shape = shapes[k];
    if (!shape || shape.short < 0.3 * shape.long || shape.long > 5.5) continue;
    if (!decreasesOutwards(values, width, height, shape, (shape.long + shape.short) / 2)) continue;
    const flat = flatTop(values, width, height, at.x, at.y, base, noise);
    const { x, y, long, short } = shape;
    const { top } = at;
    found.push({
      x,
      y,
      long,
      short,
      localSky: base,
      snr: (top - base) / noise,
      top,
      flat,
      saturated: flat || top >= ceiling,
    });
  }
  // Stars whose tops are cut off, as the flat ones among them tell.
  const cut = clippingLevel(found.filter((star) => star.flat).map((star) => star.top));
  return found.map((star) => (star.top >= cut ? { ...star, saturated: true } : star));
}

/** Each star once: of peaks nearer to each other than a share of the width the brightest; in the order in which they came. */
function removeDuplicates(found: readonly Candidate[], distance: number, width: number, height: number): Candidate[] {
  const side = Math.max(1, distance);
  // Cells of that side, with a rim, so that all neighbours lie in the cells about a star's own.
  const columns = Math.ceil(width / side) + 3;
  const first = new Int32Array(columns * (Math.ceil(height / side) + 3)).fill(-1);
  const next = new Int32Array(found.length);
  const kept = new Uint8Array(found.length);
  const taken = ({ x, y }: Candidate, cell: number): boolean => {
    for (let j = -columns; j <= columns; j += columns) {
      for (let i = -1; i <= 1; i++) {
        for (let k = first[cell + j + i]; k >= 0; k = next[k]) {
          if ((found[k].x - x) ** 2 + (found[k].y - y) ** 2 < distance * distance) return true;
        }
      }
    }
    return false;
  };
  for (const k of argsortDescending(Float32Array.from(found, ({ top }) => top))) {
    const { x, y } = found[k];
    const cell = (Math.floor(y / side) + 1) * columns + Math.floor(x / side) + 1;
    if (taken(found[k], cell)) continue;
    next[k] = first[cell];
    first[cell] = k;
    kept[k] = 1;
  }
  return found.filter((_, k) => kept[k] === 1);
}

/** Shape that stars are assumed to have where no crowd of them is found. */
const ANY: FieldPsf = { sigma: 3 / SIGMA_TO_FWHM, toFwhm: SIGMA_TO_FWHM, round: 0.8, beta: GAUSSIAN };

/**
 * Finds stars. The field's own look, from its sharpest crowd of alike peaks, tells knots of gas and wide smudges from stars, and sets one
 * aperture for all fluxes; saturated stars may be wider, since their tops are cut off.
 * @param threshold of the smoothed image over its background, in units of its scatter
 * @returns stars in rows from the foot, each with its flux in an aperture of 1.4 of the field's FWHM
 */
export function findStars(values: Float32Array, width: number, height: number, threshold = 5): Found {
  const noise = planeNoise(values, width, height);
  if (!(noise > 0) || width < 24 || height < 24) return { stars: [], noise: noise || 0, beta: GAUSSIAN, fwhm: 0 };
  const found = candidates(values, width, height, noise, threshold);
  const look = estimateFieldPsf(
    values,
    width,
    height,
    found.filter((star) => !star.saturated),
  );
  const alike = found.filter((star) =>
    look ? matchesFieldPsf(star, look, star.saturated) : star.short > 0.5 * star.long,
  );
  const { toFwhm, sigma, beta } = look ?? ANY;
  const aperture = apertureFor(sigma * toFwhm);
  const single = removeDuplicates(alike, APART * sigma * toFwhm, width, height).sort(
    (a, b) => Math.round(a.y) - Math.round(b.y) || a.x - b.x,
  );
  const lights = aperturePhotometryAll(values, width, height, single, aperture);
  const stars = single.flatMap((star, k): Star[] => {
    const light = lights[k];
    // Without a whole aperture there is no flux to compare: such a star stands at the border of the data.
    if (!light || !(light.flux > SURE * light.fluxError)) return [];
    const { x, y, saturated, long, short } = star;
    const { flux, fluxError } = light;
    const fwhm = fwhmFromMoments(star, look ?? ANY);
    return [{ x, y, peak: star.top - star.localSky, fwhm, round: short / long, saturated, flux, fluxError }];
  });
  return { stars, noise, beta, fwhm: look ? look.sigma * look.toFwhm : 0 };
}
