import { UserError } from '@owl-loom/base/errors';
import type { Raster } from '@owl-loom/image/raster/raster';
import { type Wcs, pixelToSky } from '@owl-loom/image/fits/wcs';
import { medianOfList } from '@owl-loom/image/stats/median';
import { CATALOGUE } from './catalogue';
import type { StarField } from './field';
import { moffatShare } from './moffat';
import { type Aperture, aperturePhotometryAll } from './photometry';
import { SpatialIndex } from './spatial-index';

/** Gains that bring the stars to their colours, green's own being 1. */
export interface White {
  readonly gains: readonly [number, number, number];
  /** Stars used. */
  readonly stars: number;
}

const FEWEST = 6;
/** How far a star may lie from its place in the catalogue, pixels. */
const NEAR = 4;

/** Stars that are looked at: the clearest ones tell the mean star as well as all of them. */
const MOST = 5000;

/** A star so near to one that is cut off is lost in it, pixels. */
const SPREAD = 3;

interface StarColours {
  readonly x: number;
  readonly y: number;
  readonly flux: readonly [number, number, number];
}

/** Clear stars with their light in all three planes, in one aperture. */
function colourStars({ planes, rect }: Raster, fields: readonly StarField[]): StarColours[] {
  const { width, height } = rect;
  const saturated = new SpatialIndex(
    fields.flatMap(({ stars }) => stars.filter((s) => s.saturated)),
    SPREAD,
  );
  const clear = fields[1].stars.filter(
    (s) => !s.saturated && s.round > 0.65 && s.flux > 20 * s.fluxError && !saturated.near(s.x, s.y),
  );
  const min = [...clear].sort((a, b) => b.flux / b.fluxError - a.flux / a.fluxError).at(MOST - 1);
  // In the list's own order, which is that of rows.
  const stars = min ? clear.filter((s) => s.flux / s.fluxError >= min.flux / min.fluxError) : clear;
  // Each plane by its own seeing, and by the share of a star's light that its aperture holds: wider stars must not count as fainter.
  const known = fields.find(({ fwhm }) => fwhm > 0) ?? fields[1];
  const apertures = fields.map((field) => apertureOf(field.fwhm > 0 ? field : known));
  const places = stars.map((s) => ({ x: s.x - rect.x, y: s.y - rect.y }));
  const found = planes.map((plane, p) => aperturePhotometryAll(plane, width, height, places, apertures[p]));
  return stars.flatMap(({ x, y }, i) => {
    const flux = found.map((plane, p) => {
      const light = plane[i];
      return light && light.flux > 8 * light.fluxError ? light.flux / apertures[p].share : Number.NaN;
    });
    return flux.every((f) => f === f) ? [{ x, y, flux: [flux[0], flux[1], flux[2]] as const }] : [];
  });
}

/** An aperture for a plane's stars, and the share of a star's light that is left of it when the ring's level is taken off. */
function apertureOf({ fwhm, beta }: Pick<StarField, 'fwhm' | 'beta'>): Aperture & { readonly share: number } {
  const aperture = { radius: Math.max(3, 2 * fwhm), inner: Math.max(6, 3 * fwhm), outer: Math.max(10, 5 * fwhm) };
  const { radius, inner, outer } = aperture;
  const within = (r: number): number => moffatShare(fwhm, beta, r);
  const level = (within(outer) - within(inner)) / (outer ** 2 - inner ** 2);
  return { ...aperture, share: within(radius) - level * radius ** 2 };
}

/** The middle of ratios, by their logarithms, those more than 2.5 σ off left out. */
function middleRatio(ratios: readonly number[]): number {
  let kept = ratios.map(Math.log);
  for (let round = 0; round < 5; round++) {
    const centre = medianOfList(kept);
    const sigma = 1.4826 * medianOfList(kept.map((v) => Math.abs(v - centre)));
    const next = kept.filter((v) => Math.abs(v - centre) <= Math.max(2.5 * sigma, 1e-9));
    if (next.length === kept.length || next.length < FEWEST) break;
    kept = next;
  }
  return Math.exp(kept.reduce((s, v) => s + v, 0) / kept.length);
}

/**
 * Gains under which the mean star is white.
 * @param fields the stars of each plane, in frame pixels
 * @throws UserError where too few stars stand clear in all planes
 */
export function whiteBalanceFromStars(image: Raster, fields: readonly StarField[]): White {
  const stars = colourStars(image, fields);
  if (stars.length < FEWEST)
    throw new UserError(
      'calibrate-few-stars',
      `${stars.length === 0 ? 'No' : `Only ${stars.length}`} usable ${stars.length === 1 ? 'star' : 'stars'} in all channels; ${FEWEST} are needed. Set the gains manually.`,
    );
  const gain = (p: 0 | 2) => middleRatio(stars.map(({ flux }) => flux[1] / flux[p]));
  return { gains: [gain(0), 1, gain(2)], stars: stars.length };
}

/**
 * Gains under which the stars have the colours of the shipped catalogue: a white star is one whose three magnitudes are the same.
 * @throws UserError where the picture shows too few of its stars
 */
export function whiteBalanceFromCatalogue(image: Raster, fields: readonly StarField[], wcs: Wcs): White {
  const stars = colourStars(image, fields);
  const placed = stars.map((s) => ({ s, at: pixelToSky(wcs, s.x, s.y) }));
  const scale = Math.sqrt(Math.abs(wcs.plane.xx * wcs.plane.yy - wcs.plane.xy * wcs.plane.yx));
  const cosDec = Math.cos((wcs.dec * Math.PI) / 180);
  const pairs = CATALOGUE.flatMap((entry) => {
    const far = ({ at }: { at: readonly [number, number] }) =>
      Math.hypot((((at[0] - entry.ra + 540) % 360) - 180) * cosDec, at[1] - entry.dec) / scale;
    const close = placed.filter((star) => far(star) < NEAR).sort((a, b) => far(a) - far(b))[0];
    return close ? [{ flux: close.s.flux, entry }] : [];
  });
  if (pairs.length < FEWEST)
    throw new UserError(
      'calibrate-no-catalogue',
      `Only ${pairs.length} catalogue ${pairs.length === 1 ? 'star' : 'stars'} found; ${FEWEST} are needed. The built-in catalogue covers the demo skies only. Use stars.`,
    );
  // A star's true ratio of green to another plane, from its magnitudes.
  const gain = (p: 0 | 2) =>
    middleRatio(
      pairs.map(
        ({ flux, entry }) => flux[1] / flux[p] / 10 ** (0.4 * ((p === 0 ? entry.red : entry.blue) - entry.green)),
      ),
    );
  return { gains: [gain(0), 1, gain(2)], stars: pairs.length };
}
