import { floatsToHex, floatsFromHex } from '@owl-loom/image/raster/float-hex';
import type { Star } from './detect';
import type { StarField } from './field';

/**
 * A field of stars as it is kept and sent: eight numbers a star in single precision, little-endian, in hexadecimal. A list of tens of
 * thousands of objects would hold up whichever thread takes it.
 */
export interface PackedField extends Omit<StarField, 'stars'> {
  readonly count: number;
  readonly packed: string;
}

const NUMBERS = 8;

const numbersOf = (s: Star): number[] => [s.x, s.y, s.peak, s.fwhm, s.round, s.saturated ? 1 : 0, s.flux, s.fluxError];

/** Where the numbers that a list is altered in stand among those of a star. */
export const STAR_OFFSETS = { peak: 2, fwhm: 3, flux: 6, fluxError: 7 } as const;

export function pack({ stars, ...rest }: StarField): PackedField {
  const numbers = new Float32Array(NUMBERS * stars.length);
  stars.forEach((star, i) => numbers.set(numbersOf(star), NUMBERS * i));
  return { ...rest, count: stars.length, packed: floatsToHex(numbers) };
}

/**
 * A field with other numbers for each star, without making objects of them.
 * @param rest what the field itself has from then on
 * @param change is given the numbers of all stars and where one's own begin; see {@link STAR_OFFSETS}
 */
export function mapPacked(
  field: PackedField,
  rest: Partial<Omit<StarField, 'stars'>>,
  change: (numbers: Float32Array, from: number) => void,
): PackedField {
  const numbers = floatsFromHex(field.packed);
  for (let from = 0; from < numbers.length; from += NUMBERS) change(numbers, from);
  return { ...field, ...rest, packed: floatsToHex(numbers) };
}

const lately = new WeakMap<PackedField, StarField>();

/** The field again; the same object for the same packed one. */
export function unpack(field: PackedField): StarField {
  const before = lately.get(field);
  if (before) return before;
  const { packed, count, ...rest } = field;
  const numbers = floatsFromHex(packed);
  const stars = Array.from({ length: count }, (_, i): Star => {
    const at = (k: number) => numbers[NUMBERS * i + k];
    return {
      x: at(0),
      y: at(1),
      peak: at(2),
      fwhm: at(3),
      round: at(4),
      saturated: at(5) === 1,
      flux: at(6),
      fluxError: at(7),
    };
  });
  const made: StarField = { ...rest, stars };
  lately.set(field, made);
  return made;
}
