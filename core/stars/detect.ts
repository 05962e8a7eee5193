import { noiseOf } from '../stats/noise';
import { saturationOf } from '../stats/saturation';
import { background } from './background';
import { ceilingOf, flatTop } from './flat-top';
import { apertureFor, photometer } from './photometry';

/** A star as measured on one plane. Positions in pixels, centres at whole numbers. */
export interface Star {
  readonly x: number;
  readonly y: number;
  /** Greatest value above the local sky. */
  readonly peak: number;
  /** Full width at half maximum, in pixels. */
  readonly fwhm: number;
  /** Shorter over longer axis, 0 to 1. */
  readonly round: number;
  readonly saturated: boolean;
  /** Light in an aperture of 1.4 FWHM over the local sky, and its error; see core/stars/photometry. */
  readonly flux: number;
  readonly fluxError: number;
}

const SIGMA_TO_FWHM = 2 * Math.sqrt(2 * Math.log(2));
const BOX = 7;

interface Shape {
  readonly x: number;
  readonly y: number;
  readonly fwhm: number;
  readonly round: number;
}

/**
 * Centre and width by moments under a round Gaussian that is fitted to them round by round (Bernstein & Jarvis 2002, circular weight):
 * for a Gaussian star of σ the weighted second moment settles at half of σ², whatever the noise far out.
 */
function shapeOf(
  flat: Float32Array,
  width: number,
  height: number,
  x0: number,
  y0: number,
  base: number,
): Shape | undefined {
  let x = x0;
  let y = y0;
  let variance = 2;
  let shape: Shape | undefined;
  for (let round = 0; round < 30; round++) {
    let w0 = 0;
    let wx = 0;
    let wy = 0;
    let xx = 0;
    let yy = 0;
    let xy = 0;
    for (let j = Math.max(0, y0 - BOX); j <= Math.min(height - 1, y0 + BOX); j++) {
      for (let i = Math.max(0, x0 - BOX); i <= Math.min(width - 1, x0 + BOX); i++) {
        const v = flat[j * width + i] - base;
        if (v !== v) continue;
        const dx = i - x;
        const dy = j - y;
        const weight = v * Math.exp(-(dx * dx + dy * dy) / (2 * variance));
        w0 += weight;
        wx += weight * dx;
        wy += weight * dy;
        xx += weight * dx * dx;
        yy += weight * dy * dy;
        xy += weight * dx * dy;
      }
    }
    if (!(w0 > 0)) return undefined;
    // Twice the weighted shift: the weight draws the centroid half-way back to where it stands.
    x += (2 * wx) / w0;
    y += (2 * wy) / w0;
    if (Math.hypot(x - x0, y - y0) > 3) return undefined;
    const mxx = xx / w0;
    const myy = yy / w0;
    const mxy = xy / w0;
    const next = mxx + myy;
    if (!(next > 0.05) || next > BOX * BOX) return undefined;
    const half = Math.hypot((mxx - myy) / 2, mxy);
    const long = next / 2 + half;
    const short = next / 2 - half;
    // A pixel is a box of variance 1/12, which is not the star's.
    const own = Math.max(0.01, next - 1 / 12);
    shape = { x, y, fwhm: SIGMA_TO_FWHM * Math.sqrt(own), round: long > 0 ? Math.sqrt(Math.max(0, short / long)) : 0 };
    if (Math.abs(next - variance) < 1e-4 * variance) break;
    variance = next;
  }
  return shape;
}

/** Points of a ring about a star, well outside its core. */
const RING = Array.from(
  { length: 16 },
  (_, i) => [Math.round(9 * Math.cos((i * Math.PI) / 8)), Math.round(9 * Math.sin((i * Math.PI) / 8))] as const,
);

/** What lies about a peak: the middle of a ring around it, and its upper quarter, which a filament lifts where it crosses the ring twice. */
function ringLevels(
  flat: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
): { middle: number; upper: number } {
  const found: number[] = [];
  for (const [dx, dy] of RING) {
    const i = x + dx;
    const j = y + dy;
    const v = i >= 0 && j >= 0 && i < width && j < height ? flat[j * width + i] : Number.NaN;
    if (v === v) found.push(v);
  }
  found.sort((a, b) => a - b);
  if (found.length === 0) return { middle: Number.NaN, upper: Number.NaN };
  return { middle: found[found.length >> 1], upper: found[Math.floor(0.75 * found.length)] };
}

/** True where no pixel of the 3x3 about it is greater (ties go to the first in reading order). */
function isPeak(flat: Float32Array, width: number, x: number, y: number): boolean {
  const v = flat[y * width + x];
  for (let j = -1; j <= 1; j++) {
    for (let i = -1; i <= 1; i++) {
      if (i === 0 && j === 0) continue;
      const other = flat[(y + j) * width + x + i];
      if (other > v || (other === v && (j < 0 || (j === 0 && i < 0)))) return false;
    }
  }
  return true;
}

/** A peak with the shape of a star, before the field's own width is known. */
interface Candidate extends Omit<Star, 'flux' | 'fluxError'> {
  /** Value of its brightest pixel, sky and all, and whether its top is flat. */
  readonly top: number;
  readonly flat: boolean;
}

/** Peaks over the local sky whose 3x3 stands far above the noise and whose width and roundness could be a star's. */
function candidates(
  values: Float32Array,
  width: number,
  height: number,
  noise: number,
  threshold: number,
): Candidate[] {
  const sky = background(values, width, height);
  const flat = new Float32Array(values.length);
  for (let i = 0; i < values.length; i++) flat[i] = values[i] - sky[i];
  const ceiling = saturationOf(values);
  const found: Candidate[] = [];
  for (let y = 2; y < height - 2; y++) {
    for (let x = 2; x < width - 2; x++) {
      const at = y * width + x;
      const v = flat[at];
      if (!(v > threshold * noise) || !isPeak(flat, width, x, y)) continue;
      const { middle: base, upper } = ringLevels(flat, width, height, x, y);
      const peak = v - base;
      if (!(v - upper > threshold * noise) || v - upper < 0.4 * v) continue;
      let sum = -9 * base;
      for (let j = -1; j <= 1; j++) for (let i = -1; i <= 1; i++) sum += flat[at + j * width + i];
      // One bright pixel alone is a hot pixel; a star lifts its neighbours.
      if (!(sum > 2.4 * threshold * noise) || sum < 1.6 * peak) continue;
      const shape = shapeOf(flat, width, height, x, y, base);
      if (!shape || shape.fwhm < 1 || shape.fwhm > 12 || shape.round < 0.5) continue;
      found.push({
        ...shape,
        peak,
        saturated: values[at] >= ceiling,
        top: values[at],
        flat: flatTop(flat, width, height, x, y, base, noise),
      });
    }
  }
  return withSaturated(found);
}

/** Marks stars whose tops are cut off, as the flat ones among them tell. */
function withSaturated(found: readonly Candidate[]): Candidate[] {
  const ceiling = ceilingOf(found.filter((star) => star.flat).map((star) => star.top));
  return found.map((star) => (star.flat || star.top >= ceiling ? { ...star, saturated: true } : star));
}

/** Width of the field's stars: the median of its brighter round ones; undefined where there are none. */
function fieldWidth(found: readonly Candidate[]): number | undefined {
  const clean = found.filter((star) => !star.saturated && star.round > 0.7).sort((a, b) => b.peak - a.peak);
  const widths = clean
    .slice(0, Math.max(20, Math.floor(clean.length / 3)))
    .map((star) => star.fwhm)
    .sort((a, b) => a - b);
  return widths[widths.length >> 1];
}

/** Two peaks nearer than this share of the width are one star seen twice. */
const APART = 0.6;

/**
 * Finds stars. The field's own width, from its brighter stars, tells knots of gas and wide smudges from stars, and sets one aperture for
 * all fluxes; saturated stars may be wider, since their tops are cut off.
 * @param threshold in units of the noise
 * @returns stars in rows from the foot, each with its flux in an aperture of 1.4 of the field's FWHM
 */
export function findStars(values: Float32Array, width: number, height: number, threshold = 5): Star[] {
  const noise = noiseOf(values, width, height);
  if (!(noise > 0) || width < 16 || height < 16) return [];
  const found = candidates(values, width, height, noise, threshold);
  const common = fieldWidth(found);
  const fits = (star: Candidate) =>
    common === undefined || (star.fwhm > 0.55 * common && star.fwhm < (star.saturated ? 4 : 1.7) * common);
  const aperture = apertureFor(common ?? 3);
  const stars: Star[] = [];
  for (const star of found) {
    if (!fits(star)) continue;
    const last = stars.findLast((other) => star.y - other.y > 3 || Math.abs(other.x - star.x) < APART * star.fwhm);
    if (last && Math.hypot(last.x - star.x, last.y - star.y) < APART * star.fwhm) continue;
    const light = photometer(values, width, height, star.x, star.y, aperture);
    // Without a whole aperture there is no flux to compare: such a star stands at the border of the data.
    if (!light || !(light.flux > 0)) continue;
    const { top: _, flat: __, ...seen } = star;
    stars.push({ ...seen, flux: light.flux, fluxError: light.fluxError });
  }
  return stars;
}
