import type { StepReport } from '@owl-loom/recipe/steps/step-spec';
import { isResolved, deconvolvePlane, sharpenedMargin } from '@owl-loom/algorithms/deconvolve/deconvolve-plane';
import { implementStep } from './step-implementation';
import type { NodeKernel } from '../node-kernel';
import { expectBackground, type Measurement } from '../measurements/index';
import { unpackFields } from '../measurements/stars';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect } from '@owl-loom/image/geometry/rect';
import type { StarField } from '@owl-loom/algorithms/stars/field';
import { deconvolve as spec } from '@owl-loom/recipe/steps/deconvolve';

/** The field of stars that tells a plane's profile: its own, or the first that shows any. */
function fieldFor(fields: readonly StarField[], p: number): StarField | undefined {
  const own = fields[Math.min(p, fields.length - 1)];
  return own.fwhm > 0 ? own : fields.find(({ fwhm }) => fwhm > 0);
}

const widestOf = (figure: Measurement): number =>
  unpackFields(figure).reduce((max, { fwhm }) => Math.max(max, fwhm), 0);

/**
 * Sharpens by the field's own star profile: Richardson and Lucy's method, damped where image and model agree within the noise. Rings about
 * stars are held back, stars that were cut off stay as they are.
 */
export const deconvolveStep = implementStep(spec, {
  version: 1,
  build: ({ rounds, strength }, { input, sky, withStars }) => {
    const kernel: NodeKernel<StepReport<typeof spec>> = {
      inputRoi: (rect, level, _, [stars]) => {
        const m = sharpenedMargin(widestOf(stars) / 2 ** level, rounds);
        const around = { x: rect.x - m, y: rect.y - m, width: rect.width + 2 * m, height: rect.height + 2 * m };
        return intersect(around, rectAtLevel(input.extent, level));
      },
      prepare: ([stars, figure], level) => {
        const fields = unpackFields(stars);
        const tones = expectBackground(figure);
        return ([from], out) =>
          out.planes.forEach((to, p) => {
            const field = fieldFor(fields, p);
            const plane = from.planes[p];
            if (!field || !isResolved(field.fwhm / 2 ** level) || strength === 0) {
              to.set(cropPlane(plane, from.rect, out.rect));
              return;
            }
            const tone = tones[Math.min(p, tones.length - 1)];
            const how = { field, level, sky: tone.sky, noise: tone.noise, rounds, strength };
            to.set(deconvolvePlane(plane, from.rect, out.rect, how));
          });
      },
      report: ([stars]) => {
        const fields = unpackFields(stars);
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
