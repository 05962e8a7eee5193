import { rgbaOf } from '@owl-loom/image/kernels/rgba';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { PlaneBackground } from '@owl-loom/image/stats/background';
import { quantiles } from '@owl-loom/image/stats/quantile';
import { previewStretch } from '@owl-loom/algorithms/tone/auto';
import { curveOf } from '@owl-loom/algorithms/tone/curves';

/** Steps of the brightening table: more than eight bits can show. */
const STEPS = 4096;

/** Maps a number to 0–255; a table between black and white for what is brightened. */
export interface Brightness {
  readonly black: number;
  readonly white: number;
  readonly table?: Uint8ClampedArray;
}

/** Numbers as they are. */
export const PLAIN: Brightness = { black: 0, white: 1 };

/** Brightening for the eye: the automatic stretch of the anchor's tone, all planes alike. */
export function brightness(tones: readonly PlaneBackground[]): Brightness {
  const { black, strength } = previewStretch(tones);
  const curve = curveOf('asinh', strength);
  const table = new Uint8ClampedArray(STEPS + 1);
  // Steps are dense near black, where the sky lies: the table runs over the square root.
  for (let i = 0; i <= STEPS; i++) table[i] = 255 * curve((i / STEPS) ** 2);
  return { black, white: 1, table };
}

/** For what a step took out or put in: nothing is middle grey, and almost all of the change lies between black and white. */
export function differenceBrightness(raster: Raster): Brightness {
  const ends = raster.planes
    .flatMap((plane) => quantiles(plane, [0.002, 0.998]))
    .filter(Number.isFinite)
    .map(Math.abs);
  const reach = Math.max(1e-9, ...ends);
  return {
    black: -reach,
    white: reach,
    table: Uint8ClampedArray.from({ length: STEPS + 1 }, (_, i) => 255 * (i / STEPS) ** 2),
  };
}

/** Black and white marks for cut pixels, told apart by hue and by lightness. */
const UNDER = [40, 90, 255] as const;
const OVER = [255, 214, 60] as const;

/**
 * A raster as RGBA, rows from the top down. No data is transparent.
 * @param clipping marks pixels where a plane lies at or below 0, or at or above 1
 */
export function toRgba(raster: Raster, how: Brightness, clipping: boolean): Uint8ClampedArray<ArrayBuffer> {
  const { width, height } = raster.rect;
  const out = new Uint8ClampedArray(width * height * 4);
  const [r, g, b] = raster.planes.length === 3 ? raster.planes : [raster.planes[0], raster.planes[0], raster.planes[0]];
  const { black, white, table } = how;
  if (!table && black === 0 && white === 1 && !clipping) {
    for (let y = 0; y < height; y++) {
      const row = (plane: Float32Array) => plane.subarray(y * width, (y + 1) * width);
      rgbaOf([row(r), row(g), row(b)], out.subarray((height - 1 - y) * width * 4, (height - y) * width * 4));
    }
    return out;
  }
  const over = 1 / (white - black);
  const one = (v: number): number => {
    if (!table) return 255 * v;
    const t = (v - black) * over;
    return t <= 0 ? 0 : t >= 1 ? 255 : table[(Math.sqrt(t) * STEPS + 0.5) | 0];
  };
  for (let y = 0; y < height; y++) {
    let at = (height - 1 - y) * width * 4;
    for (let i = y * width; i < (y + 1) * width; i++, at += 4) {
      const R = r[i];
      const G = g[i];
      const B = b[i];
      if (R !== R || G !== G || B !== B) continue;
      if (clipping && (R >= 1 || G >= 1 || B >= 1)) mark(out, at, OVER);
      else if (clipping && (R <= 0 || G <= 0 || B <= 0)) mark(out, at, UNDER);
      else {
        out[at] = one(R);
        out[at + 1] = one(G);
        out[at + 2] = one(B);
        out[at + 3] = 255;
      }
    }
  }
  return out;
}

function mark(out: Uint8ClampedArray, at: number, colour: readonly [number, number, number]): void {
  [out[at], out[at + 1], out[at + 2]] = colour;
  out[at + 3] = 255;
}

/**
 * A raster as a bitmap for the screen.
 * @param over does something more to its pixels
 */
export async function bitmapOf(
  raster: Raster,
  how: Brightness,
  clipping: boolean,
  over?: (rgba: Uint8ClampedArray) => void,
): Promise<ImageBitmap> {
  const rgba = toRgba(raster, how, clipping);
  over?.(rgba);
  return createImageBitmap(new ImageData(rgba, raster.rect.width, raster.rect.height));
}
