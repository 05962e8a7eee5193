import { UserError } from '@owl-loom/base/errors';
import type { Raster } from '@owl-loom/image/raster/raster';
import { medianOfList } from '@owl-loom/image/stats/median';
import { fitPolynomial, fitSpline, type Model } from './model';
import { type Box, measureBox, placeSampleBoxes } from './samples';

export interface GradientParams {
  readonly model: 'polynomial' | 'spline';
  readonly degree: number;
  readonly smoothing: number;
  readonly samples: 'auto' | readonly Box[];
}

/** A measured gradient: the boxes that it rests on, and for each plane its surface and the level that is kept. */
export interface Gradient {
  readonly boxes: readonly Box[];
  readonly planes: readonly { readonly model: Model; readonly level: number; readonly values: readonly number[] }[];
}

/** The mean of the planes, on which boxes are chosen for all of them. */
function meanPlane({ planes }: Raster): Float32Array {
  if (planes.length === 1) return planes[0];
  return planes[0].map((v, i) => (v + planes[1][i] + planes[2][i]) / 3);
}

/**
 * Measures the gradient of an image on its sample boxes. The level that is kept is the median of the boxes.
 * @throws UserError where there are too few boxes for the model, or boxes that lie on no data
 */
export function measureGradient(image: Raster, params: GradientParams): Gradient {
  const { rect } = image;
  const { samples } = params;
  const placed = samples === 'auto' ? { chosen: placeSampleBoxes(meanPlane(image), rect) } : { given: samples };
  const { chosen } = placed;
  const boxes = (placed.chosen ?? placed.given).map(({ x, y, size }): Box => ({ x, y, size }));
  const planes = image.planes.map((plane) => {
    // Those of a mono image were chosen by what is in them.
    const found =
      chosen && image.planes.length === 1 ? chosen : boxes.flatMap((box) => measureBox(plane, rect, box) ?? []);
    if (found.length === 0)
      throw new UserError(
        'gradient-samples',
        params.samples === 'auto'
          ? 'No sky samples found automatically. Add samples by double-click.'
          : 'All samples are outside the data. Move them onto the picture.',
      );
    const model =
      params.model === 'polynomial'
        ? fitPolynomial(found, params.degree, rect)
        : fitSpline(found, params.smoothing, rect);
    return { model, level: medianOfList(found.map((b) => b.value)), values: found.map((b) => b.value) };
  });
  return { boxes, planes };
}
