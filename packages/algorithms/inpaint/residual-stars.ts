import { weightedSum } from '@owl-loom/image/kernels/weighted-sum';
import { planeNoise } from '@owl-loom/image/stats/noise';
import { saturationLevel } from '@owl-loom/image/stats/saturation';
import { apertureFor } from '../stars/photometry';
import type { StarField } from '../stars/field';
import { borderPeaks } from './border';
import type { Circle } from './harmonic-fill';
import { type Ground, groundOf, residualExtent, type Ring, AnnulusSampler } from './annulus-sampler';

/** A line image, the broadband one that was taken off it, and its stars in the pixels of the two. */
export interface SubtractionInput {
  readonly line: Float32Array;
  readonly broad: Float32Array;
  readonly broadStars: StarField;
  readonly broadSky: number;
  readonly width: number;
  readonly height: number;
}

/** Stars whose light in the line image is below so many noises leave nothing to be seen. */
const FAINTEST = 3;
/** The brightest, at most so many: the list is sent and kept. */
const MOST = 20_000;
/** How far a remainder is followed, in widths of a star: of ordinary ones, and of those that are cut off. */
const REACH = 6;
const CUT_REACH = 24;
const FURTHEST = 120;
/** Pixels around, at most, from which level and scatter are told. */
const ASKED = 160;

/** Whether a star's middle lies off its ground by more than chance: one pixel by six of its scatter, or two by four. */
function standsOut({ dx, dy, v, count }: Ring, { level, along, up, scatter }: Ground): boolean {
  let off = 0;
  for (let i = 0; i < count; i++) {
    const by = Math.abs(v[i] - level - along * dx[i] - up * dy[i]) / scatter;
    if (by > 6) return true;
    if (by > 4) off++;
  }
  return off > 1;
}

/**
 * Circles about the stars of which something is left in `N − k·(C − sky)`: those that were cut off in one of the two, and those whose
 * profile or colour differs, at the image's border too. Each reaches as far as what is left stands out from what lies around.
 */
export function findResidualStars(
  { line, broad, broadStars, broadSky, width, height }: SubtractionInput,
  k: number,
): Circle[] {
  const left = new Float32Array(line.length);
  weightedSum([line, broad], [1, -k], k * broadSky, left);
  const noise = planeNoise(left, width, height);
  const room = new AnnulusSampler(left, width, height);
  const circles: Circle[] = [];
  const { fwhm } = broadStars;
  const faintest = (FAINTEST * noise) / Math.abs(k);
  const bright = broadStars.stars
    .filter((star) => star.saturated || star.peak > faintest)
    .sort((a, b) => b.flux - a.flux)
    .slice(0, MOST);
  const ceiling = saturationLevel(broad);
  const cut = borderPeaks(broad, width, height, broadSky + faintest, apertureFor(fwhm).radius).slice(0, MOST);
  for (const { x, y, saturated } of [...bright, ...cut.map((p) => ({ ...p, saturated: p.top >= ceiling }))]) {
    const reach = Math.min(FURTHEST, (saturated ? CUT_REACH : REACH) * fwhm);
    const around = room.ring(x, y, 2.2 * fwhm, 3.6 * fwhm, ASKED);
    if (around.count < 8) continue;
    const ground = groundOf(around, noise, room);
    if (standsOut(room.ring(x, y, 1, Math.max(1.5, fwhm)), ground))
      circles.push([Math.round(10 * x) / 10, Math.round(10 * y) / 10, residualExtent(x, y, reach, noise, room) + 0.5]);
  }
  return circles;
}
