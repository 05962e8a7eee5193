import { z } from 'zod';
import { defineStep } from './step-kind';
import { inpaintCircles, inpaintSourceRect } from '#algorithms/inpaint/harmonic-fill';
import { strokeToCircles, cloneSourceRect, cloneStroke } from '#algorithms/inpaint/strokes';
import { rectAtLevel } from '#image/raster/pyramid';
import { limited } from '#recipe/limits';
import { cropPlane } from '#image/raster/raster';
import { intersect, union } from '#image/geometry/rect';

/** Paints blemishes out: filled from around, or with pixels from an offset. Strokes that copy come after those that fill, in list order. */
export const mend = defineStep({
  do: 'mend',
  name: 'mend',
  summary: 'Paints blemishes out, from around or from beside.',
  hints: {
    for: 'The patch goes on with the grain and brightness of what is around it.',
    tooMuch: 'Strokes over stars or knots of gas invent what is not there.',
  },
  group: 'stars',
  searchTerms: ['heal', 'clone', 'retouch', 'blemish', 'inpaint', 'remove artefact'],
  version: 1,
  params: z.strictObject({
    strokes: limited(
      'strokes',
      z.strictObject({
        radius: z.number().positive(),
        points: limited('points', z.tuple([z.number(), z.number()])).min(1),
        from: z.tuple([z.number(), z.number()]).optional(),
      }),
    ),
  }),
  accepts: { planes: 'either', domain: 'either' },
  produces: { domain: 'same' },
  initialParams: () => ({ strokes: [] }),
  build: ({ strokes }, { input }) => {
    const circles = strokes.filter(({ from }) => !from).flatMap(strokeToCircles);
    const copies = strokes.filter(({ from }) => from);
    return {
      kernel: {
        inputRoi: (rect, level) =>
          intersect(
            union(inpaintSourceRect(rect, circles, level), cloneSourceRect(rect, copies, level)),
            rectAtLevel(input.extent, level),
          ),
        prepare:
          (_, level) =>
          ([before], out) =>
            out.planes.forEach((to, p) => {
              const plane = before.planes[p];
              to.set(cropPlane(plane, before.rect, out.rect));
              inpaintCircles(plane, before.rect, to, out.rect, circles, level);
              for (const stroke of copies) cloneStroke(plane, before.rect, to, out.rect, stroke, level);
            }),
      },
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
