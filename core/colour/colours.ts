import type { Domain } from '../engine/kernel';
import type { Raster } from '../raster/raster';
import { colouredness } from './hue-share';
import { oklabReader } from './oklab-reader';

/** Degrees of hue that are counted together. */
export const HUE_STEP = 5;
/** Cells of the plane of colours, a side. */
export const CELLS = 96;

/** Which colours an image has, in OKLab. */
export interface Colours {
  /** Of each {@link HUE_STEP} degrees from 0 on: the share of the pixels that has that hue, and their mean chroma. */
  readonly hues: readonly { readonly share: number; readonly chroma: number }[];
  /** Pixels by a (rising across) and b (rising upwards), {@link CELLS} a side, rows from the least b; what lies further out is at the rim. */
  readonly plane: Uint32Array;
  /** The a and b at the plane's sides. */
  readonly reach: number;
  /** Pixels that have data. */
  readonly count: number;
}

/** Sides of the plane that are offered: the least that holds all but a few pixels is taken. */
const REACHES = [0.02, 0.05, 0.1, 0.2, 0.4] as const;
/** The share of the pixels that may lie beyond. */
const BEYOND = 0.002;

/** OKLab's a and b of each pixel with data. */
function coloursAt(image: Raster, domain: Domain): { a: Float32Array; b: Float32Array; count: number } {
  const { length } = image.planes[0];
  const lab = oklabReader(image, domain);
  const [as, bs] = [new Float32Array(length), new Float32Array(length)];
  let count = 0;
  for (let i = 0; i < length; i++) {
    const [l, x, y] = lab(i);
    if (l !== l) continue;
    as[count] = x;
    bs[count++] = y;
  }
  return { a: as.subarray(0, count), b: bs.subarray(0, count), count };
}

/**
 * Counts the colours of an image.
 * @param domain stretched numbers are decoded by sRGB, others are light
 */
export function coloursOf(image: Raster, domain: Domain): Colours {
  const { a, b, count } = coloursAt(image, domain);
  const sums = Array.from({ length: 360 / HUE_STEP }, () => ({ weight: 0, chroma: 0 }));
  const beyond = REACHES.map(() => 0);
  for (let i = 0; i < count; i++) {
    const chroma = Math.hypot(a[i], b[i]);
    REACHES.forEach((reach, k) => {
      if (chroma > reach) beyond[k]++;
    });
    // A pixel belongs to its hue as in a family of hues: greys to none.
    const weight = colouredness(chroma);
    if (weight === 0) continue;
    const degrees = (Math.atan2(b[i], a[i]) * 180) / Math.PI;
    const sum = sums[Math.floor(((degrees + 360) % 360) / HUE_STEP) % sums.length];
    sum.weight += weight;
    sum.chroma += weight * chroma;
  }
  const reach = REACHES.find((_, k) => beyond[k] <= BEYOND * count) ?? REACHES[REACHES.length - 1];
  const plane = new Uint32Array(CELLS * CELLS);
  const cell = (v: number): number => Math.min(CELLS - 1, Math.max(0, Math.floor(((v / reach + 1) / 2) * CELLS)));
  for (let i = 0; i < count; i++) plane[cell(b[i]) * CELLS + cell(a[i])]++;
  const hues = sums.map(({ weight, chroma }) => ({
    share: count > 0 ? weight / count : 0,
    chroma: weight > 0 ? chroma / weight : 0,
  }));
  return { hues, plane, reach, count };
}
