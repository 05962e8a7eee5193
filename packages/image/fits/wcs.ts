import type { Card } from './cards';
import { type Affine, determinant, invertAffine, mapPoint } from '../geometry/affine';

/** A place on the sky by the gnomonic projection (Calabretta & Greisen 2002, TAN). Angles in degrees. */
export interface Wcs {
  /** Right ascension and declination of the reference pixel. */
  readonly ra: number;
  readonly dec: number;
  /** From a pixel (0-based, rows from the foot) to the projection's plane, degrees. */
  readonly plane: Affine;
}

const RAD = Math.PI / 180;
/** How far two ways of saying the same scale may differ before they contradict each other. */
const SAME = 1e-3;

const numberOf = (cards: ReadonlyMap<string, Card['value']>, key: string): number | undefined => {
  const value = cards.get(key);
  return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
};

type Matrix = Pick<Affine, 'xx' | 'xy' | 'yx' | 'yy'>;

function cdMatrix(cards: ReadonlyMap<string, Card['value']>): Matrix | undefined {
  const keys = ['CD1_1', 'CD1_2', 'CD2_1', 'CD2_2'];
  if (!keys.some((key) => numberOf(cards, key) !== undefined)) return undefined;
  const [xx, xy, yx, yy] = keys.map((key) => numberOf(cards, key) ?? 0);
  return { xx, xy, yx, yy };
}

function scaledMatrix(cards: ReadonlyMap<string, Card['value']>): Matrix | undefined {
  const dx = numberOf(cards, 'CDELT1');
  const dy = numberOf(cards, 'CDELT2');
  if (dx === undefined || dy === undefined) return undefined;
  const pc = ['PC1_1', 'PC1_2', 'PC2_1', 'PC2_2'].map((key, i) => numberOf(cards, key) ?? (i === 0 || i === 3 ? 1 : 0));
  if (['PC1_1', 'PC1_2', 'PC2_1', 'PC2_2'].some((key) => cards.has(key)))
    return { xx: dx * pc[0], xy: dx * pc[1], yx: dy * pc[2], yy: dy * pc[3] };
  const turn = (numberOf(cards, 'CROTA2') ?? 0) * RAD;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return { xx: dx * cos, xy: -dy * sin, yx: dx * sin, yy: dy * cos };
}

const unlike = (a: Matrix, b: Matrix): boolean => {
  const size = Math.max(...Object.values(a).map(Math.abs));
  return (['xx', 'xy', 'yx', 'yy'] as const).some((key) => Math.abs(a[key] - b[key]) > SAME * size);
};

/**
 * Reads a file's place on the sky.
 * @param height rows of the picture
 * @param topDown whether the file's first row is the top of the picture
 * @returns undefined where the file says nothing of it; a sentence in `trouble` where what it says cannot be used
 */
export function wcsOf(list: readonly Card[], height: number, topDown: boolean): Wcs | { trouble: string } | undefined {
  const cards = new Map(list.map((card) => [card.key, card.value]));
  const types = [cards.get('CTYPE1'), cards.get('CTYPE2')];
  if (types.every((type) => type === undefined)) return undefined;
  const trouble = (message: string) => ({ trouble: message });
  const [lon, lat] = types.map((type) => (typeof type === 'string' ? type.trim() : ''));
  if (!/^RA-*TAN(-SIP)?$/.test(lon) || !/^DEC-*TAN(-SIP)?$/.test(lat))
    return trouble(`its axes are ${lon || 'missing'} and ${lat || 'missing'}, and only RA---TAN with DEC--TAN is read`);
  const keys = ['CRVAL1', 'CRVAL2', 'CRPIX1', 'CRPIX2'] as const;
  const lacking = keys.find((key) => numberOf(cards, key) === undefined);
  if (lacking) return trouble(`${lacking} is missing or no number`);
  const [ra, dec, px, py] = keys.map((key) => numberOf(cards, key) ?? 0);
  if (Math.abs(dec) > 90) return trouble(`CRVAL2 is ${dec}, which is no declination`);
  const cd = cdMatrix(cards);
  const scaled = scaledMatrix(cards);
  if (cd && scaled && unlike(cd, scaled)) return trouble('its CD cards and its CDELT cards contradict each other');
  const matrix = cd ?? scaled;
  if (!matrix) return trouble('neither CD nor CDELT cards tell its scale');
  if (!(Math.abs(determinant({ ...matrix, tx: 0, ty: 0 })) > 1e-20)) return trouble('its scale is zero');
  // FITS counts pixels from 1; a file from the top down counts y from there.
  const flip = topDown ? -1 : 1;
  const own = { ...matrix, xy: flip * matrix.xy, yy: flip * matrix.yy };
  const x0 = px - 1;
  const y0 = topDown ? height - py : py - 1;
  return { ra, dec, plane: { ...own, tx: -(own.xx * x0 + own.xy * y0), ty: -(own.yx * x0 + own.yy * y0) } };
}

/** Right ascension and declination of a pixel, degrees. */
export function pixelToSky(wcs: Wcs, x: number, y: number): [number, number] {
  const [xi, eta] = mapPoint(wcs.plane, x, y).map((v) => v * RAD);
  const dec0 = wcs.dec * RAD;
  const down = Math.cos(dec0) - eta * Math.sin(dec0);
  const ra = wcs.ra * RAD + Math.atan2(xi, down);
  const dec = Math.atan2(Math.sin(dec0) + eta * Math.cos(dec0), Math.hypot(xi, down));
  return [(((ra / RAD) % 360) + 360) % 360, dec / RAD];
}

/** The pixel of a place on the sky; undefined where it lies behind the projection. */
export function skyToPixel(wcs: Wcs, ra: number, dec: number): [number, number] | undefined {
  const [a, d, dec0] = [(ra - wcs.ra) * RAD, dec * RAD, wcs.dec * RAD];
  const cos = Math.sin(dec0) * Math.sin(d) + Math.cos(dec0) * Math.cos(d) * Math.cos(a);
  if (cos <= 1e-3) return undefined;
  const xi = (Math.cos(d) * Math.sin(a)) / cos;
  const eta = (Math.cos(dec0) * Math.sin(d) - Math.sin(dec0) * Math.cos(d) * Math.cos(a)) / cos;
  return mapPoint(invertAffine(wcs.plane), xi / RAD, eta / RAD);
}
