import type { StarBlur } from '../node-kernel';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { type StarField, detectStarField } from '@owl-loom/algorithms/stars/field';
import { mapPacked, type PackedField, pack, STAR_OFFSETS, unpack } from '@owl-loom/algorithms/stars/packed';
import type { Measurement } from './index';
import { defineMeasurement } from './kind';

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
export const unpackFields = (figure: Measurement): StarField[] => (figure as StarsFigure).planes.map(unpack);

/** What is found on a level, or on a window, in full-size frame pixels. */
function placed({ stars, fwhm, ...rest }: StarField, x: number, y: number, level: number): StarField {
  const n = 2 ** level;
  return {
    ...rest,
    fwhm: fwhm * n,
    stars: stars.map((s) => ({ ...s, x: toFullSize(s.x + x, level), y: toFullSize(s.y + y, level), fwhm: s.fwhm * n })),
  };
}

/** Stars so many times as bright. */
function scaleStars(packed: PackedField, by: number): PackedField {
  if (by === 1) return packed;
  return mapPacked(packed, { noise: by * packed.noise }, (numbers, from) => {
    for (const which of [STAR_OFFSETS.peak, STAR_OFFSETS.flux, STAR_OFFSETS.fluxError]) numbers[from + which] *= by;
  });
}

/** Stars as smoothing leaves them. */
function blurStars(packed: PackedField, { wider, lower }: StarBlur): PackedField {
  if (wider === 0) return packed;
  const widened = (fwhm: number) => Math.sqrt(fwhm ** 2 + wider);
  return mapPacked(packed, { fwhm: widened(packed.fwhm) }, (numbers, from) => {
    numbers[from + STAR_OFFSETS.fwhm] = widened(numbers[from + STAR_OFFSETS.fwhm]);
    numbers[from + STAR_OFFSETS.peak] *= lower;
  });
}

export const stars = defineMeasurement<StarsSpec, StarsFigure>({
  kind: 'stars',
  called: 'the stars of',
  version: 4,
  grid: 'own',
  planes: 'apart',
  measure: ({ images: [{ planes, rect }], level }) => ({
    kind: 'stars',
    planes: planes.map((plane) => pack(placed(detectStarField(plane, rect.width, rect.height), rect.x, rect.y, level))),
  }),
  // Stars seen upside down are no stars; else their places stay, and their light follows.
  propagateLinear: ({ planes }, { b }) =>
    b.some((by) => !(by > 0))
      ? undefined
      : { kind: 'stars', planes: planes.map((plane, p) => scaleStars(plane, b[p % b.length])) },
  inheritStars: (figures, from, softening) => ({
    kind: 'stars',
    planes: from.map(({ input, plane, by }) => {
      const own = figures.get(input)?.planes[plane];
      if (!own) throw new Error('stars are gathered before they are known');
      const found = scaleStars(own, by);
      return softening ? blurStars(found, softening) : found;
    }),
  }),
  placeholder: (_, planes) => ({
    kind: 'stars',
    planes: Array.from({ length: planes }, () => pack({ stars: [], fwhm: 0, noise: 0, beta: 20 })),
  }),
});

/** The plane that tells where an image's stars are: of a colour image green, which lies between the others. */
export const referencePlane = <T>(planes: readonly T[]): T => planes[planes.length === 3 ? 1 : 0];
