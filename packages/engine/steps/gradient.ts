import { z } from 'zod';
import { expectKind } from '../measurements/index';
import { removeSurface } from '#algorithms/gradient/surface';
import { defineStep } from './step-kind';

/**
 * Takes a gradient out: a smooth surface through sample boxes on the sky (their middles and sides in frame pixels), subtracted, or divided
 * out where the gradient dims as vignetting does. The level of the sky is kept.
 */
export const gradient = defineStep({
  do: 'gradient',
  name: 'gradient',
  summary: 'Takes uneven sky out, and leaves the nebula.',
  hints: {
    for: 'The contours follow the glow of the sky and do not wind about the nebula.',
    tooMuch: 'Faint outer gas goes with the glow: take boxes off it, or more smoothing.',
  },
  group: 'sky',
  searchTerms: ['light pollution', 'background', 'background extraction', 'flatten', 'vignette', 'glow'],
  version: 2,
  params: z.strictObject({
    model: z.enum(['polynomial', 'spline']).default('spline'),
    degree: z.int().min(1).max(4).default(2),
    smoothing: z.number().nonnegative().max(1e6).default(1),
    samples: z
      .union([
        z.literal('auto'),
        z.array(z.strictObject({ x: z.number(), y: z.number(), size: z.number().positive().max(2000) })).max(1000),
      ])
      .default('auto'),
    by: z.enum(['subtract', 'divide']).default('subtract'),
  }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'same' },
  build: (p, { input }) => ({
    kernel: {
      // What is smooth takes nothing off a star that its own sky does not; division changes stars with their place.
      ...(p.by === 'subtract' && {
        starSources: Array.from({ length: input.planes }, (_, plane) => ({ input: 0, plane, by: 1 })),
      }),
      prepare: ([figure], level) => {
        const { planes } = expectKind('gradient', figure);
        const divides = p.by === 'divide';
        return ([from], out) =>
          out.planes.forEach((to, k) => {
            const { model, level: kept } = planes[k];
            removeSurface(model, out.rect, level, from.planes[k], { kept, divides }, to);
          });
      },
      report: ([figure]) => {
        const { boxes, planes } = expectKind('gradient', figure);
        return { samples: boxes.length, level: planes.map((plane) => plane.level) };
      },
    },
    figures: [
      {
        kind: 'gradient',
        nodes: [input.node],
        params: { model: p.model, degree: p.degree, smoothing: p.smoothing, samples: p.samples },
      },
    ],
    planes: input.planes,
    extent: input.extent,
  }),
});
