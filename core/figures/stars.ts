import type { Softening } from '../engine/kernel';
import { toFull } from '../raster/levels';
import { type StarField, starField } from '../stars/field';
import { altered, type PackedField, pack, STAR, unpack } from '../stars/packed';
import type { Figure } from './index';
import { figureKind } from './kind';

/** The stars of an image, each plane by itself: found once, and read by all that stands on stars. */
export interface StarsSpec {
  readonly kind: 'stars';
  readonly nodes: readonly [number];
}

export interface StarsFigure {
  readonly kind: 'stars';
  readonly planes: readonly PackedField[];
}

/** The stars of each plane. */
export const fieldsOf = (figure: Figure): StarField[] => (figure as StarsFigure).planes.map(unpack);

/** What is found on a level, or on a window, in full-size frame pixels. */
function placed({ stars, fwhm, ...rest }: StarField, x: number, y: number, level: number): StarField {
  const n = 2 ** level;
  return {
    ...rest,
    fwhm: fwhm * n,
    stars: stars.map((s) => ({ ...s, x: toFull(s.x + x, level), y: toFull(s.y + y, level), fwhm: s.fwhm * n })),
  };
}

/** Stars so many times as bright. */
function brighter(packed: PackedField, by: number): PackedField {
  if (by === 1) return packed;
  return altered(packed, { noise: by * packed.noise }, (numbers, from) => {
    for (const which of [STAR.peak, STAR.flux, STAR.fluxError]) numbers[from + which] *= by;
  });
}

/** Stars as smoothing leaves them. */
function softer(packed: PackedField, { wider, lower }: Softening): PackedField {
  if (wider === 0) return packed;
  const widened = (fwhm: number) => Math.sqrt(fwhm ** 2 + wider);
  return altered(packed, { fwhm: widened(packed.fwhm) }, (numbers, from) => {
    numbers[from + STAR.fwhm] = widened(numbers[from + STAR.fwhm]);
    numbers[from + STAR.peak] *= lower;
  });
}

export const stars = figureKind<StarsSpec, StarsFigure>({
  kind: 'stars',
  called: 'the stars of',
  version: 4,
  place: 'own',
  planes: 'apart',
  measure: ({ images: [{ planes, rect }], level }) => ({
    kind: 'stars',
    planes: planes.map((plane) => pack(placed(starField(plane, rect.width, rect.height), rect.x, rect.y, level))),
  }),
  // Stars seen upside down are no stars; else their places stay, and their light follows.
  carry: ({ planes }, { b }) =>
    b.some((by) => !(by > 0))
      ? undefined
      : { kind: 'stars', planes: planes.map((plane, p) => brighter(plane, b[p % b.length])) },
  gather: (figures, from, softening) => ({
    kind: 'stars',
    planes: from.map(({ input, plane, by }) => {
      const own = figures.get(input)?.planes[plane];
      if (!own) throw new Error('stars are gathered before they are known');
      const found = brighter(own, by);
      return softening ? softer(found, softening) : found;
    }),
  }),
  standIn: (_, planes) => ({
    kind: 'stars',
    planes: Array.from({ length: planes }, () => pack({ stars: [], fwhm: 0, noise: 0, beta: 20 })),
  }),
});

/** The plane that tells where an image's stars are: of a colour image green, which lies between the others. */
export const starPlane = <T>(planes: readonly T[]): T => planes[planes.length === 3 ? 1 : 0];
