import { z } from 'zod';
import { GRAIN_MARGIN, grainOf } from '../deconvolve/grain';
import { besideStars, guardMargin, guardStars } from '../deconvolve/guard';
import { lucy } from '../deconvolve/lucy';
import { blurredBy, psfOf } from '../deconvolve/psf';
import { stepKind } from '../engine/step-kind';
import type { Kernel } from '../engine/kernel';
import { asTone, type Figure } from '../figures/index';
import { fieldsOf } from '../figures/stars';
import { presence } from '../kernels/absent';
import { gaussianTaps, smooth } from '../kernels/smooth';
import { levelRect, toFull } from '../raster/levels';
import { windowOf } from '../raster/raster';
import { intersect, type Rect } from '../raster/rect';
import type { StarField } from '../stars/field';

/** On a level whose stars are narrower than this, in its pixels, nothing is left to be sharpened. */
const NARROWEST = 1.2;
/** What is darker than the sky by so many noises counts as no light at all. */
const BELOW = 6;

/** σ, in full widths, of the places over which the light is kept. */
const EVEN = 2;

/** How far a pixel's neighbours have a say in it: each round looks further, but ever less of what lies there comes through. */
const reachOf = (fwhm: number, rounds: number): number => Math.ceil((3 + 1.6 * Math.sqrt(rounds)) * 1.8 * fwhm);

/** The field of stars that tells a plane's profile: its own, or the first that shows any. */
function fieldFor(fields: readonly StarField[], p: number): StarField | undefined {
  const own = fields[Math.min(p, fields.length - 1)];
  return own.fwhm > 0 ? own : fields.find(({ fwhm }) => fwhm > 0);
}

const widestOf = (figure: Figure): number => fieldsOf(figure).reduce((most, { fwhm }) => Math.max(most, fwhm), 0);

/**
 * Sharpens by the field's own star profile: Richardson and Lucy's method, damped where image and model agree within the noise. Rings about
 * stars are held back, stars that were cut off stay as they are.
 */
export const deconvolve = stepKind({
  do: 'deconvolve',
  name: 'deconvolve',
  says: 'Sharpens by the profile of the field’s own stars.',
  group: 'detail',
  words: ['deconvolution', 'seeing', 'sharpen', 'psf', 'richardson lucy'],
  version: 1,
  params: z.strictObject({
    rounds: z.int().min(1).max(200).default(10),
    strength: z.number().min(0).max(1).default(1),
  }),
  takes: { planes: 'either', domain: 'linear' },
  gives: { domain: 'same' },
  // What it does lies within a star's width, of which a coarse level shows little.
  kept: true,
  build: ({ rounds, strength }, { input, sky }) => {
    const margin = (level: number, fwhm: number): number =>
      fwhm / 2 ** level < NARROWEST
        ? 0
        : Math.max(reachOf(fwhm / 2 ** level, rounds), guardMargin(fwhm / 2 ** level)) +
          GRAIN_MARGIN +
          Math.ceil((4 * EVEN * fwhm) / 2 ** level);
    const sharpened = (
      plane: Float32Array,
      rect: Rect,
      window: Rect,
      { field, level, sky: dark, noise }: { field: StarField; level: number; sky: number; noise: number },
    ): Float32Array => {
      const n = 2 ** level;
      const { width, height } = rect;
      const fwhm = field.fwhm / n;
      const psf = psfOf(fwhm, field.beta);
      const there = presence(plane);
      const grain = grainOf(plane, rect, noise / n);
      const low = dark - BELOW * noise;
      const sharp = lucy(
        plane.map((v) => v - low),
        { width, height, there },
        psf,
        grain,
        { fwhm, rounds, strength },
      );
      const stars = field.stars.flatMap((star) => {
        const [x, y] = [(star.x - toFull(rect.x, level)) / n, (star.y - toFull(rect.y, level)) / n];
        const far = guardMargin(fwhm);
        return x > -far && y > -far && x < width + far && y < height + far ? [{ ...star, x, y }] : [];
      });
      const guarded = { width, height, stars, fwhm, noise: grain };
      const change = sharp.map((v, i) => (plane[i] > low ? v + low - plane[i] : 0));
      // What damping adds or takes over a few widths goes, beside the stars, which keep their light by themselves: light is moved, not made.
      const beside = besideStars(plane, guarded);
      const made = smooth(change, width, height, gaussianTaps(EVEN * fwhm), 1, beside);
      for (let i = 0; i < sharp.length; i++) sharp[i] = plane[i] + change[i] - (beside[i] > 0 ? made[i] : 0);
      guardStars(sharp, plane, blurredBy(psf, plane, width, height, there), guarded);
      return windowOf(sharp, rect, window);
    };
    const kernel: Kernel = {
      needs: (rect, level, _, [stars]) => {
        const m = margin(level, widestOf(stars));
        const around = { x: rect.x - m, y: rect.y - m, width: rect.width + 2 * m, height: rect.height + 2 * m };
        return intersect(around, levelRect(input.extent, level));
      },
      bind: ([stars, tone], level) => {
        const fields = fieldsOf(stars);
        const tones = asTone(tone);
        return ([from], out) =>
          out.planes.forEach((to, p) => {
            const field = fieldFor(fields, p);
            const plane = from.planes[p];
            if (!field || field.fwhm / 2 ** level < NARROWEST || strength === 0) {
              to.set(windowOf(plane, from.rect, out.rect));
              return;
            }
            const { sky: dark, noise } = tones[Math.min(p, tones.length - 1)];
            to.set(sharpened(plane, from.rect, out.rect, { field, level, sky: dark, noise }));
          });
      },
      describe: ([stars]) => {
        const fields = fieldsOf(stars);
        return {
          fwhm: fields.map(({ fwhm }) => fwhm),
          beta: fields.map(({ beta }) => beta),
          stars: fields[0].stars.length,
        };
      },
    };
    return {
      kernel,
      figures: [
        { kind: 'stars', nodes: [input.node] },
        { kind: 'tone', nodes: [input.node], region: sky },
      ],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
