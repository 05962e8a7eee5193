import type { Domain } from '@owl-loom/image/pixel-function';
import type { Raster } from '@owl-loom/image/raster/raster';
import { chromaWeight } from './hue-membership';
import { labPlanes } from './oklab-planes';
import { atan2InTurns } from './tables';

/** Degrees of hue that are counted together. */
export const HUE_STEP = 5;
/** Cells of the plane of colours, a side. */
export const CELLS = 96;

/** Which colours an image has, in OKLab. */
export interface ColourHistogram {
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

/** Chroma is told apart so finely where it is asked how far colours reach. */
const FINE = 1 / 1000;
const FAR = 0.4 / FINE;

/**
 * Counts the colours of an image.
 * @param domain stretched numbers are decoded by sRGB, others are light
 */
export function colourHistogram(image: Raster, domain: Domain): ColourHistogram {
  const { l, a, b } = labPlanes(image, domain);
  const steps = 360 / HUE_STEP;
  const [weights, chromas] = [new Float64Array(steps), new Float64Array(steps)];
  const far = new Uint32Array(FAR + 1);
  let count = 0;
  for (let i = 0; i < l.length; i++) {
    if (l[i] !== l[i]) continue;
    count++;
    const chroma = Math.sqrt(a[i] * a[i] + b[i] * b[i]);
    far[Math.min(FAR, Math.ceil(chroma / FINE))]++;
    // A pixel belongs to its hue as in a family of hues: greys to none.
    const weight = chromaWeight(chroma);
    if (weight === 0) continue;
    const at = Math.floor(atan2InTurns(a[i], b[i]) * steps) % steps;
    weights[at] += weight;
    chromas[at] += weight * chroma;
  }
  const beyond = (reach: number) => far.subarray(Math.round(reach / FINE) + 1).reduce((sum, n) => sum + n, 0);
  const reach = REACHES.find((max) => beyond(max) <= BEYOND * count) ?? REACHES[REACHES.length - 1];
  const plane = new Uint32Array(CELLS * CELLS);
  const by = CELLS / 2 / reach;
  const cell = (v: number): number => Math.min(CELLS - 1, Math.max(0, CELLS / 2 + by * v)) | 0;
  for (let i = 0; i < l.length; i++) if (l[i] === l[i]) plane[cell(b[i]) * CELLS + cell(a[i])]++;
  const hues = Array.from(weights, (weight, i) => ({
    share: count > 0 ? weight / count : 0,
    chroma: weight > 0 ? chromas[i] / weight : 0,
  }));
  return { hues, plane, reach, count };
}
