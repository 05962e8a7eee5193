import { type Affine, compose, IDENTITY, invertAffine } from '@owl-loom/image/geometry/affine';
import { pixelToSky, type Wcs } from '@owl-loom/image/fits/wcs';
import type { DemoTarget } from './target';

/** Degrees a pixel, and how far north is turned from up. */
const SCALE = 0.00052;
const TURN = (7 * Math.PI) / 180;

/** Where the pixels of a demo target lie on the sky, north nearly up, east to the left. */
export function placeOf({ size, place }: DemoTarget): Wcs {
  const [xx, xy, yx, yy] = [
    -SCALE * Math.cos(TURN),
    SCALE * Math.sin(TURN),
    SCALE * Math.sin(TURN),
    SCALE * Math.cos(TURN),
  ];
  const [x0, y0] = [size.width / 2 - 0.5, size.height / 2 - 0.5];
  return { ...place, plane: { xx, xy, tx: -(xx * x0 + xy * y0), yx, yy, ty: -(yx * x0 + yy * y0) } };
}

/**
 * Cards that place a file of a demo target on the sky.
 * @param moved where a pixel of the target's own grid lies in the file
 */
export function skyCards(target: DemoTarget, moved: Affine = IDENTITY): { key: string; value: string | number }[] {
  const { plane } = placeOf(target);
  const own = compose(invertAffine(moved), plane);
  // The reference pixel is the one that the plane's origin falls on.
  const zero = invertAffine(own);
  return [
    { key: 'CTYPE1', value: 'RA---TAN' },
    { key: 'CTYPE2', value: 'DEC--TAN' },
    { key: 'CRVAL1', value: target.place.ra },
    { key: 'CRVAL2', value: target.place.dec },
    { key: 'CRPIX1', value: zero.tx + 1 },
    { key: 'CRPIX2', value: zero.ty + 1 },
    { key: 'CD1_1', value: own.xx },
    { key: 'CD1_2', value: own.xy },
    { key: 'CD2_1', value: own.yx },
    { key: 'CD2_2', value: own.yy },
  ];
}

/** Right ascension and declination of a pixel of a demo target. */
export const skyOfPixel = (target: DemoTarget, x: number, y: number): [number, number] =>
  pixelToSky(placeOf(target), x, y);
