import { smoothstep } from '../mask/smoothstep';

/** A family of hues: angles in OKLCh, in degrees. */
export interface HueRange {
  readonly centre: number;
  /** From end to end, where it counts fully. */
  readonly width: number;
  /** Over which it falls to nothing on either side. */
  readonly soft: number;
  /** Chroma from which on a colour counts fully. */
  readonly chroma: number;
}

/** From this chroma on a colour belongs to its family fully, where nothing else is said. */
export const COLOURED = 0.04;

/** What has a tenth of that chroma, or less, is taken for grey: there a hue is noise. */
export const GREY = 0.1;

/**
 * How much a colour belongs to a family of hues: 1 within `width`, falling by smoothstep over `soft`, times a smoothstep from a tenth of
 * `chroma` up to it. Greys belong to none.
 * @returns the share of a colour by its a and b
 */
export function hueShareOf({ centre, width, soft, chroma }: HueRange): (a: number, b: number) => number {
  const along = (centre * Math.PI) / 180;
  const [cos, sin] = [Math.cos(along), Math.sin(along)];
  return (a, b) => {
    const size = Math.sqrt(a * a + b * b);
    const coloured = chroma > 0 ? smoothstep((size / chroma - GREY) / (1 - GREY)) : size > 0 ? 1 : 0;
    if (coloured === 0) return 0;
    const off = Math.acos(Math.max(-1, Math.min(1, (a * cos + b * sin) / size)));
    const away = (off * 180) / Math.PI - width / 2;
    if (away <= 0) return coloured;
    return away < soft ? coloured * smoothstep(1 - away / soft) : 0;
  };
}
