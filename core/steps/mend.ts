import { z } from 'zod';
import { stepKind } from '../engine/step-kind';
import { fillCircles, fillNeeds } from '../mend/fill';
import { circlesAlong, copyNeeds, copyStroke } from '../mend/strokes';
import { levelRect } from '../raster/levels';
import { limited } from '../recipe/limits';
import { windowOf } from '../raster/raster';
import { intersect, union } from '../raster/rect';

/** Paints blemishes out: filled from around, or with pixels from an offset. Strokes that copy come after those that fill, in list order. */
export const mend = stepKind({
  do: 'mend',
  name: 'mend',
  says: 'Paints blemishes out, from around or from beside.',
  watch: {
    for: 'The patch goes on with the grain and brightness of what is around it.',
    tooMuch: 'Strokes over stars or knots of gas invent what is not there.',
  },
  group: 'stars',
  words: ['heal', 'clone', 'retouch', 'blemish', 'inpaint', 'remove artefact'],
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
  takes: { planes: 'either', domain: 'either' },
  gives: { domain: 'same' },
  begins: () => ({ strokes: [] }),
  build: ({ strokes }, { input }) => {
    const circles = strokes.filter(({ from }) => !from).flatMap(circlesAlong);
    const copies = strokes.filter(({ from }) => from);
    return {
      kernel: {
        needs: (rect, level) =>
          intersect(
            union(fillNeeds(rect, circles, level), copyNeeds(rect, copies, level)),
            levelRect(input.extent, level),
          ),
        bind:
          (_, level) =>
          ([before], out) =>
            out.planes.forEach((to, p) => {
              const plane = before.planes[p];
              to.set(windowOf(plane, before.rect, out.rect));
              fillCircles(plane, before.rect, to, out.rect, circles, level);
              for (const stroke of copies) copyStroke(plane, before.rect, to, out.rect, stroke, level);
            }),
      },
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
