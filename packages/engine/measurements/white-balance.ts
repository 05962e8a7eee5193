import { mapPoint } from '@owl-loom/image/geometry/affine';
import type { Wcs } from '@owl-loom/image/fits/wcs';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { type White, whiteBalanceFromCatalogue, whiteBalanceFromStars } from '@owl-loom/algorithms/stars/white';
import { defineMeasurement } from './kind';
import { unpackFields } from './stars';

/** Gains that make stars white, or as the catalogue has them where the image lies on the sky. */
export interface WhiteSpec {
  readonly kind: 'white';
  readonly nodes: readonly [number];
  readonly wcs?: Wcs;
}

export type WhiteFigure = { readonly kind: 'white' } & White;

/** A place on the sky for a level's pixels. */
function scaledWcs(wcs: Wcs, level: number): Wcs {
  const n = 2 ** level;
  const { xx, xy, yx, yy } = wcs.plane;
  const [tx, ty] = mapPoint(wcs.plane, toFullSize(0, level), toFullSize(0, level));
  return { ...wcs, plane: { xx: xx * n, xy: xy * n, tx, yx: yx * n, yy: yy * n, ty } };
}

export const whiteBalanceKind = defineMeasurement<WhiteSpec, WhiteFigure>({
  kind: 'white',
  called: 'the star colours of',
  version: 7,
  grid: 'frame',
  planes: 'together',
  dependsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ spec, images: [image], on, level }) => {
    const planes = unpackFields(on[0]);
    return {
      kind: 'white',
      ...(spec.wcs
        ? whiteBalanceFromCatalogue(image, planes, scaledWcs(spec.wcs, level))
        : whiteBalanceFromStars(image, planes)),
    };
  },
  placeholder: () => ({ kind: 'white', gains: [1, 1, 1], stars: 0 }),
});
