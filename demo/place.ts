import { pixelToSky, type Wcs } from '../core/align/wcs';

/** Where the demo's camera points: an invented place on the sky, degrees. */
const RA = 297.4;
const DEC = 31.8;
/** Degrees a pixel, and how far north is turned from up. */
const SCALE = 0.00052;
const TURN = (7 * Math.PI) / 180;

/** Cards that place a picture of the demo on the sky, north nearly up, east to the left. */
export function skyCards({ width, height }: { width: number; height: number }): { key: string; value: string | number }[] {
  return [
    { key: 'CTYPE1', value: 'RA---TAN' },
    { key: 'CTYPE2', value: 'DEC--TAN' },
    { key: 'CRVAL1', value: RA },
    { key: 'CRVAL2', value: DEC },
    { key: 'CRPIX1', value: width / 2 + 0.5 },
    { key: 'CRPIX2', value: height / 2 + 0.5 },
    { key: 'CD1_1', value: -SCALE * Math.cos(TURN) },
    { key: 'CD1_2', value: SCALE * Math.sin(TURN) },
    { key: 'CD2_1', value: SCALE * Math.sin(TURN) },
    { key: 'CD2_2', value: SCALE * Math.cos(TURN) },
  ];
}

/** Right ascension and declination of a demo picture's pixel. */
export function skyOfPixel({ width, height }: { width: number; height: number }, x: number, y: number): [number, number] {
  const [xx, xy, yx, yy] = [-SCALE * Math.cos(TURN), SCALE * Math.sin(TURN), SCALE * Math.sin(TURN), SCALE * Math.cos(TURN)];
  const [x0, y0] = [width / 2 - 0.5, height / 2 - 0.5];
  const wcs: Wcs = { ra: RA, dec: DEC, plane: { xx, xy, tx: -(xx * x0 + xy * y0), yx, yy, ty: -(yx * x0 + yy * y0) } };
  return pixelToSky(wcs, x, y);
}
