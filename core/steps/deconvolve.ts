import { z } from 'zod';
import { isWide, sharpened, sharpenedMargin } from '../deconvolve/sharpened';
import { stepKind } from '../engine/step-kind';
import type { Kernel } from '../engine/kernel';
import { asTone, type Figure } from '../figures/index';
import { fieldsOf } from '../figures/stars';
import { levelRect } from '../raster/levels';
import { windowOf } from '../raster/raster';
import { intersect } from '../raster/rect';
import type { StarField } from '../stars/field';

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
  watch: {
    for: 'Stars become narrower and gas crisper at 1:1.',
    tooMuch: 'Dark rings about stars and worms in the sky: fewer rounds, or less strength.',
  },
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
  build: ({ rounds, strength }, { input, sky, withStars }) => {
    const kernel: Kernel = {
      needs: (rect, level, _, [stars]) => {
        const m = sharpenedMargin(widestOf(stars) / 2 ** level, rounds);
        const around = { x: rect.x - m, y: rect.y - m, width: rect.width + 2 * m, height: rect.height + 2 * m };
        return intersect(around, levelRect(input.extent, level));
      },
      bind: ([stars, figure], level) => {
        const fields = fieldsOf(stars);
        const tones = asTone(figure);
        return ([from], out) =>
          out.planes.forEach((to, p) => {
            const field = fieldFor(fields, p);
            const plane = from.planes[p];
            if (!field || !isWide(field.fwhm / 2 ** level) || strength === 0) {
              to.set(windowOf(plane, from.rect, out.rect));
              return;
            }
            const tone = tones[Math.min(p, tones.length - 1)];
            const how = { field, level, sky: tone.sky, noise: tone.noise, rounds, strength };
            to.set(sharpened(plane, from.rect, out.rect, how));
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
        { kind: 'stars', nodes: [withStars(input).node] },
        { kind: 'tone', nodes: [input.node], region: sky },
      ],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
