import { implementStep } from './step-implementation';
import { inpaintCircles, inpaintSourceRect } from '@owl-loom/algorithms/inpaint/harmonic-fill';
import { strokeToCircles, cloneSourceRect, cloneStroke } from '@owl-loom/algorithms/inpaint/strokes';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect, union } from '@owl-loom/image/geometry/rect';
import { mend as spec } from '@owl-loom/recipe/steps/mend';

/** Paints blemishes out: filled from around, or with pixels from an offset. Strokes that copy come after those that fill, in list order. */
export const mendStep = implementStep(spec, {
  version: 1,
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
