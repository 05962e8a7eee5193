import { cropPlane } from '../raster/raster';
import type { Rect } from '../geometry/rect';
import { B3, smooth } from '../kernels/smooth';
import { validityMask } from '../kernels/validity';
import { medianMadInPlace } from './quickselect';

/** Weights of the B3 spline, the starlet's smoothing, from the middle out: 6, 4 and 1 sixteenths. Starck & Murtagh 2006. */
const MIDDLE = 6 / 16;
const NEAR = 4 / 16;
const FAR = 1 / 16;

/**
 * What is left of white noise of σ 1 in the finest starlet scale: the norm of δ − B3⊗B3,
 * √(1 − 2·(6/16)² + (70/256)²).
 */
export const FINEST_SCALE_SIGMA = Math.sqrt(1 - 2 * (6 / 16) ** 2 + (70 / 256) ** 2);

/**
 * The finest starlet scale where its whole 5x5 support is there; NaN elsewhere and within two pixels of the border.
 * @param values width · height pixels
 */
export function finestScale(values: Float32Array, width: number, height: number): Float32Array {
  if (width < 5 || height < 5) return new Float32Array(width * height).fill(Number.NaN);
  if (validityMask(values)) return finestOfHoled(values, width, height);
  const out = smooth(values, width, height, B3, 1);
  for (let i = 0; i < out.length; i++) out[i] = values[i] - out[i];
  const edge = 2 * width;
  out.fill(Number.NaN, 0, edge);
  out.fill(Number.NaN, out.length - edge);
  for (let at = edge; at < out.length - edge; at += width) {
    out.fill(Number.NaN, at, at + 2);
    out.fill(Number.NaN, at + width - 2, at + width);
  }
  return out;
}

/** The same where some pixels have no data: they take their whole surroundings out. */
function finestOfHoled(values: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height).fill(Number.NaN);
  const column = new Float64Array(width);
  for (let y = 2; y < height - 2; y++) {
    const at = y * width;
    // NaN runs through the sums, which is what leaves incomplete supports out.
    for (let x = 0, i = at; x < width; x++, i++) {
      column[x] =
        FAR * (values[i - 2 * width] + values[i + 2 * width]) +
        NEAR * (values[i - width] + values[i + width]) +
        MIDDLE * values[i];
    }
    for (let x = 2; x < width - 2; x++) {
      out[at + x] =
        values[at + x] -
        (FAR * (column[x - 2] + column[x + 2]) + NEAR * (column[x - 1] + column[x + 1]) + MIDDLE * column[x]);
    }
  }
  return out;
}

/** From this many pixels on, strips spread over the height stand for the whole: a million pixels give the noise to two thousandths. */
const ENOUGH = 2 ** 20;
const STRIP_ROWS = 32;

/** Strips of rows, evenly spread, that hold about {@link ENOUGH} pixels; the whole rectangle where it has no more. */
function spreadStrips(place: Rect): Rect[] {
  const { y, width, height } = place;
  const strips = Math.floor(ENOUGH / (STRIP_ROWS * width));
  if (width * height <= ENOUGH * 1.5 || strips < 4) return [place];
  return Array.from({ length: strips }, (_, i) => ({
    ...place,
    y: y + Math.floor((i * (height - STRIP_ROWS)) / (strips - 1)),
    height: STRIP_ROWS,
  }));
}

/** What of a plane counts for its noise. */
export interface NoiseOptions {
  /** Only pixels in here; the whole plane where it is left out. */
  readonly place?: Rect;
  /** Whether the pixel of an index counts; all do where it is left out. */
  readonly keep?: (i: number) => boolean;
}

/** The plane's pixels in a strip, no data where they do not count. */
function counted(values: Float32Array, whole: Rect, strip: Rect, keep: NoiseOptions['keep']): Float32Array {
  const pixels = cropPlane(values, whole, strip);
  if (!keep) return pixels;
  const out = new Float32Array(pixels.length);
  for (let y = 0, i = 0; y < strip.height; y++) {
    const row = (strip.y + y) * whole.width + strip.x;
    for (let x = 0; x < strip.width; x++, i++) out[i] = keep(row + x) ? pixels[i] : Number.NaN;
  }
  return out;
}

/**
 * The noise of a plane: 1.4826 × MAD of its finest starlet scale, over what that scale keeps of white noise. Taken at full size; of more
 * than a million and a half pixels, strips spread over the height stand for the whole.
 * @returns the noise, NaN where no pixel has its whole 5x5 surroundings, and how many have
 */
export function noiseSample(
  values: Float32Array,
  width: number,
  height: number,
  { place, keep }: NoiseOptions = {},
): { noise: number; samples: number } {
  const whole = { x: 0, y: 0, width, height };
  const fine = join(
    spreadStrips(place ?? whole).map((strip) =>
      finestScale(counted(values, whole, strip, keep), strip.width, strip.height),
    ),
  );
  const { sigma, count } = medianMadInPlace(fine);
  return { noise: sigma / FINEST_SCALE_SIGMA, samples: count };
}

/** The noise alone; see {@link noiseSample}. */
export const planeNoise = (values: Float32Array, width: number, height: number, of?: NoiseOptions): number =>
  noiseSample(values, width, height, of).noise;

function join(parts: readonly Float32Array[]): Float32Array {
  if (parts.length === 1) return parts[0];
  const out = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
