import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { hueDistance } from './oklch';

/** A family of hues: angles in OKLCh, in degrees. */
export interface HueRange {
  readonly centre: number;
  /** From end to end, where it counts fully. */
  readonly width: number;
  /** Over which it falls to nothing on either side. */
  readonly soft: number;
  /** Chroma from which on a colour counts fully. */
  readonly chroma: number;
  /** Chroma up to which it does not count at all; a tenth of `chroma` where it is left out. */
  readonly grey?: number;
}

/** From this chroma on a colour belongs to its family fully, where nothing else is said. */
export const FULL_CHROMA = 0.04;

/** What has a tenth of that chroma, or less, is taken for grey: there a hue is noise. */
export const GREY = 0.1;

/** How much a colour counts as one: a smoothstep from the chroma `grey` up to `full`. */
export const chromaWeight = (chroma: number, full = FULL_CHROMA, grey = GREY * full): number =>
  full > grey ? smoothstep((chroma - grey) / (full - grey)) : chroma > grey ? 1 : 0;

/** How much what lies so many degrees from a family's middle belongs to it. */
const within = (off: number, width: number, soft: number): number => {
  const away = off - width / 2;
  return away <= 0 ? 1 : away < soft ? smoothstep(1 - away / soft) : 0;
};

/** How much a hue, in degrees, belongs to a family, greys apart. */
export const hueWeight = ({ centre, width, soft }: Omit<HueRange, 'chroma'>, hue: number): number =>
  within(hueDistance(hue, centre), width, soft);

/**
 * How much a colour belongs to a family of hues: 1 within `width`, falling by smoothstep over `soft`, times its {@link chromaWeight}.
 * Greys belong to none.
 * @returns the share of a colour by its a and b
 */
export function hueMembership({ centre, width, soft, chroma, grey }: HueRange): (a: number, b: number) => number {
  const along = (centre * Math.PI) / 180;
  const [cos, sin] = [Math.cos(along), Math.sin(along)];
  return (a, b) => {
    const size = Math.sqrt(a * a + b * b);
    const coloured = chromaWeight(size, chroma, grey);
    if (coloured === 0) return 0;
    const off = Math.acos(Math.max(-1, Math.min(1, (a * cos + b * sin) / size)));
    return coloured * within((off * 180) / Math.PI, width, soft);
  };
}

const RADIANS = Math.PI / 180;

/**
 * What the kernels take of a family: cosine and sine of its middle, half its width, one over its fall (radians), the chroma up to which all is
 * grey, one over that from there to the one that counts fully.
 */
export const numbersOf = ({ centre, width, soft, chroma, grey = GREY * chroma }: HueRange): number[] => [
  Math.cos(centre * RADIANS),
  Math.sin(centre * RADIANS),
  (width / 2) * RADIANS,
  1 / Math.max(1e-6, soft * RADIANS),
  grey,
  1 / Math.max(1e-9, chroma - grey),
];
