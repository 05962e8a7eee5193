import { validityMask } from '@owl-loom/image/kernels/validity';
import { gaussianTaps, smooth } from '@owl-loom/image/kernels/smooth';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { cropPlane } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { StarField } from '../stars/field';
import { GRAIN_MARGIN, noiseMap } from './noise-map';
import { unprotectedMask, guardMargin, suppressRinging } from './ringing-protection';
import { richardsonLucy } from './richardson-lucy';
import { convolveWithPsf, psfOf } from './psf';

/** On a level whose stars are narrower than this, in its pixels, nothing is left to be sharpened. */
const NARROWEST = 1.2;
/** What is darker than the sky by so many noises counts as no light at all. */
const BELOW = 6;
/** σ, in full widths, of the places over which the light is kept. */
const EVEN = 2;

/** Whether a level shows stars so wide, in its pixels, that they can be sharpened. */
export const isResolved = (fwhm: number): boolean => fwhm >= NARROWEST;

/** How far a pixel's neighbours have a say in it: each round looks further, but ever less of what lies there comes through. */
const reachOf = (fwhm: number, rounds: number): number => Math.ceil((3 + 1.6 * Math.sqrt(rounds)) * 1.8 * fwhm);

/** Pixels needed around a window, by the width of the stars in them. */
export const sharpenedMargin = (fwhm: number, rounds: number): number =>
  isResolved(fwhm) ? Math.max(reachOf(fwhm, rounds), guardMargin(fwhm)) + GRAIN_MARGIN + Math.ceil(4 * EVEN * fwhm) : 0;

/** How a plane is sharpened: by which stars, on which level, over which sky and noise of full size. */
export interface Sharpening {
  readonly field: StarField;
  readonly level: number;
  readonly sky: number;
  readonly noise: number;
  readonly rounds: number;
  readonly strength: number;
}

/**
 * A plane sharpened by the profile of its stars, rings about them held back, all light kept.
 * @param rect where the plane lies, in the level's pixels
 * @param window what is wanted; the plane should reach {@link sharpenedMargin} beyond it, or to the end of the data
 */
export function deconvolvePlane(plane: Float32Array, rect: Rect, window: Rect, how: Sharpening): Float32Array {
  const { field, level, sky, noise, rounds, strength } = how;
  const n = 2 ** level;
  const { width, height } = rect;
  const fwhm = field.fwhm / n;
  const psf = psfOf(fwhm, field.beta);
  const there = validityMask(plane);
  const grain = noiseMap(plane, rect, noise / n);
  const low = sky - BELOW * noise;
  const sharp = richardsonLucy(
    plane.map((v) => v - low),
    { width, height, there },
    psf,
    grain,
    { fwhm, rounds, strength },
  );
  const far = guardMargin(fwhm);
  const stars = field.stars.flatMap((star) => {
    const [x, y] = [(star.x - toFullSize(rect.x, level)) / n, (star.y - toFullSize(rect.y, level)) / n];
    return x > -far && y > -far && x < width + far && y < height + far ? [{ ...star, x, y }] : [];
  });
  const guarded = { width, height, stars, fwhm, noise: grain };
  const change = sharp.map((v, i) => (plane[i] > low ? v + low - plane[i] : 0));
  // What damping adds or takes over a few widths goes, beside the stars, which keep their light by themselves: light is moved, not made.
  const beside = unprotectedMask(plane, guarded);
  const made = smooth(change, width, height, gaussianTaps(EVEN * fwhm), 1, beside);
  for (let i = 0; i < sharp.length; i++) sharp[i] = plane[i] + change[i] - (beside[i] > 0 ? made[i] : 0);
  suppressRinging(sharp, plane, convolveWithPsf(psf, plane, width, height, there), guarded);
  return cropPlane(sharp, rect, window);
}
