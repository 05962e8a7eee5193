import { type WasmKernels, wasmKernels } from '@owl-loom/image/kernels/wasm';
import { radixSort } from '@owl-loom/image/stats/radix-sort';
import { sigmaClipSorted } from '@owl-loom/image/stats/sorted';
import { forEachRowBand } from './row-bands';

/** A circle to sum in and a ring for the local sky, radii in pixels. */
export interface Aperture {
  readonly radius: number;
  readonly inner: number;
  readonly outer: number;
}

/** What an aperture holds. Units: the image's own, flux summed over pixels. */
export interface Flux {
  readonly flux: number;
  /** From the pixels' scatter in the ring: it holds the sky's noise, not the star's own photons. */
  readonly fluxError: number;
  readonly sky: number;
}

/** An aperture for stars of a width: it holds about nine tenths of their light, the ring none of the core. */
export const apertureFor = (fwhm: number): Aperture => ({
  radius: Math.max(2, 1.4 * fwhm),
  inner: Math.max(5, 2.6 * fwhm),
  outer: Math.max(9, 4.4 * fwhm),
});

/** Parts of a pixel's side that tell how much of a pixel a circle covers. */
const PARTS = 5;

/** From a pixel's middle to its corner. */
const HALF_DIAGONAL = 0.7072;

/** The share of the pixel at (dx, dy) from the centre that lies within the radius. */
function covered(dx: number, dy: number, radius: number): number {
  const d2 = dx * dx + dy * dy;
  const [inner, outer] = [radius - HALF_DIAGONAL, radius + HALF_DIAGONAL];
  if (inner > 0 && d2 <= inner * inner) return 1;
  if (d2 >= outer * outer) return 0;
  let n = 0;
  for (let j = 0; j < PARTS; j++) {
    for (let i = 0; i < PARTS; i++) {
      const x = dx + (i + 0.5) / PARTS - 0.5;
      const y = dy + (j + 0.5) / PARTS - 0.5;
      if (x * x + y * y <= radius * radius) n++;
    }
  }
  return n / (PARTS * PARTS);
}

/** Neighbours brighten a ring, and a one-sided cut would draw the sky down: what is further than so many σ off goes on both sides. */
const CLIP = 2.5;

/** Sum and area of a circle of pixels, those at its rim counted by the share that lies inside; undefined where one has no data. */
export function circleSum(
  values: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  radius: number,
): { sum: number; area: number } | undefined {
  let sum = 0;
  let area = 0;
  for (let j = Math.ceil(y - radius - 1); j <= Math.floor(y + radius + 1); j++) {
    for (let i = Math.ceil(x - radius - 1); i <= Math.floor(x + radius + 1); i++) {
      const share = covered(i - x, j - y, radius);
      if (share === 0) continue;
      const v = i >= 0 && j >= 0 && i < width && j < height ? values[j * width + i] : Number.NaN;
      if (v !== v) return undefined;
      sum += share * v;
      area += share;
    }
  }
  return { sum, area };
}

/** Pixels of a ring that have data, and how many it has in all; what is found holds until the next ring is asked for. */
interface Annulus {
  readonly indices: Int32Array;
  readonly all: number;
}

let room = new Int32Array(4096);

function ringOf(
  values: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  inner: number,
  outer: number,
): Annulus {
  const max = Math.ceil((2 * outer + 2) ** 2);
  if (room.length < max) room = new Int32Array(max);
  let all = 0;
  let n = 0;
  const [near, far] = [inner * inner, outer * outer];
  for (let j = Math.ceil(y - outer); j <= Math.floor(y + outer); j++) {
    const dy2 = (j - y) ** 2;
    for (let i = Math.ceil(x - outer); i <= Math.floor(x + outer); i++) {
      const d2 = (i - x) ** 2 + dy2;
      if (d2 > far || d2 < near) continue;
      all++;
      if (i < 0 || j < 0 || i >= width || j >= height) continue;
      const k = j * width + i;
      if (values[k] === values[k]) room[n++] = k;
    }
  }
  return { indices: room.subarray(0, n), all };
}

const sortedOf = (values: Float32Array, indices: Int32Array): Float32Array => {
  const out = new Float32Array(indices.length);
  for (let i = 0; i < out.length; i++) out[i] = values[indices[i]];
  return radixSort(out);
};

/** How far the level under a star may be off the ring's mean, as a share of the ring's own unevenness. */
const STRUCTURE = 0.5;

const tooFew = ({ indices, all }: Annulus): boolean => indices.length < 12 || indices.length < all / 2;

/**
 * Sums the light in a circle over the sky of a ring (Howell 1989).
 * @param x centre of the star in the plane's pixels
 * @returns undefined where the circle or most of the ring lies on no data
 */
export function aperturePhotometry(
  values: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  { radius, inner, outer }: Aperture,
): Flux | undefined {
  const circle = circleSum(values, width, height, x, y, radius);
  const ring = ringOf(values, width, height, x, y, inner, outer);
  if (!circle || tooFew(ring)) return undefined;
  const { sky, sigma } = sigmaClipSorted(sortedOf(values, ring.indices), CLIP);
  return fluxOf(circle.sum, circle.area, sky, sigma, ring.indices.length);
}

/** The sky's own error counts once a pixel of the circle; a median is π/2 less sure than a mean. */
const fluxOf = (sum: number, area: number, sky: number, sigma: number, ring: number): Flux => ({
  flux: sum - area * sky,
  fluxError: sigma * Math.sqrt(area + ((Math.PI / 2) * area * area) / ring),
  sky,
});

/**
 * The light of many stars, as {@link aperturePhotometry} tells that of each.
 * @param stars in rising rows of pixels
 */
export function aperturePhotometryAll(
  values: Float32Array,
  width: number,
  height: number,
  stars: readonly { readonly x: number; readonly y: number }[],
  aperture: Aperture,
): (Flux | undefined)[] {
  const wasm = wasmKernels();
  return wasm
    ? photometersSimd(wasm, values, width, height, stars, aperture)
    : stars.map(({ x, y }) => aperturePhotometry(values, width, height, x, y, aperture));
}

/** Doubles that the kernel tells of a star, and counts that it sorts by. */
const TOLD = 5;
const COUNTS = 1024;

function photometersSimd(
  wasm: WasmKernels,
  values: Float32Array,
  width: number,
  height: number,
  stars: readonly { readonly x: number; readonly y: number }[],
  { radius, inner, outer }: Aperture,
): (Flux | undefined)[] {
  const found: (Flux | undefined)[] = [];
  const rows = stars.map(({ y }) => y);
  const side = Math.ceil(2 * outer + 2);
  forEachRowBand(wasm, values, width, height, rows, Math.ceil(Math.max(outer, radius + 1)), (band) => {
    const own = stars.slice(band.from, band.to);
    const places = wasm.putDoubles(own.flatMap(({ x, y }) => [x, y - band.foot]));
    const scratch = wasm.alloc(COUNTS + 2 * side * side);
    const out = wasm.alloc(2 * TOLD * own.length);
    const { length } = own;
    wasm.run.light(band.at, width, band.height, places, length, radius, inner, outer, CLIP, scratch, out);
    const results = wasm.doubles(out, TOLD * length);
    for (let k = 0; k < results.length; k += TOLD) {
      const [sum, area, sky, sigma, ring] = results.subarray(k, k + TOLD);
      found.push(area > 0 ? fluxOf(sum, area, sky, sigma, ring) : undefined);
    }
  });
  return found;
}

/**
 * Light of one star in two images. Both skies are means over the same pixels of the ring, those that the first image shows free of
 * neighbours: a neighbour that only the deeper image could tell would otherwise be counted as sky in the other alone.
 * @param radii of the circle in either image
 * @param noises of the pixels of either image: what a ring scatters beyond that is structure, which does not average out under the star
 */
export function pairedPhotometry(
  [first, second]: readonly [Float32Array, Float32Array],
  width: number,
  height: number,
  x: number,
  y: number,
  radii: readonly [number, number],
  inner: number,
  outer: number,
  noises: readonly [number, number],
): readonly [Flux, Flux] | undefined {
  const ring = ringOf(first, width, height, x, y, inner, outer);
  const indices = ring.indices.filter((k) => second[k] === second[k]);
  if (tooFew({ ...ring, indices })) return undefined;
  const { sky, sigma } = sigmaClipSorted(sortedOf(first, indices), CLIP);
  const free = indices.filter((k) => Math.abs(first[k] - sky) <= CLIP * sigma);
  const of = (values: Float32Array, radius: number, noise: number): Flux | undefined => {
    const circle = circleSum(values, width, height, x, y, radius);
    if (!circle) return undefined;
    let sum = 0;
    for (const k of free) sum += values[k];
    const mean = sum / free.length;
    let squares = 0;
    for (const k of free) squares += (values[k] - mean) ** 2;
    const spread = Math.sqrt(squares / free.length);
    const structure = Math.sqrt(Math.max(0, spread ** 2 - noise ** 2)) * STRUCTURE;
    return {
      flux: circle.sum - circle.area * mean,
      fluxError: Math.hypot(spread * Math.sqrt(circle.area + circle.area ** 2 / free.length), circle.area * structure),
      sky: mean,
    };
  };
  const a = of(first, radii[0], noises[0]);
  const b = of(second, radii[1], noises[1]);
  return a && b && [a, b];
}
