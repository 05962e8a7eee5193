import { oklabOf } from '../colour/oklch';
import { quickDecoded } from '../colour/tables';
import type { Apply } from '../engine/kernel';
import { smoothstep } from './smoothstep';

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

/** What has a tenth of that chroma, or less, is taken for grey: there a hue is noise. */
const GREY = 0.1;

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

/**
 * A colour image as the share of each pixel in a family of hues.
 * @param isCoded whether its numbers are coded by sRGB; else they are light
 */
export function hueKernel(range: HueRange, isCoded: boolean): Apply {
  const share = hueShareOf(range);
  const light = isCoded ? quickDecoded : (v: number) => v;
  return ([{ planes }], out) => {
    const [target] = out.planes;
    for (let i = 0; i < target.length; i++) {
      const [r, g, b] = [planes[0][i], planes[1][i], planes[2][i]];
      if (r !== r || g !== g || b !== b) {
        target[i] = Number.NaN;
        continue;
      }
      const [, x, y] = oklabOf([light(r), light(g), light(b)]);
      target[i] = share(x, y);
    }
  };
}
