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
export const apertureFor = (fwhm: number): Aperture => ({ radius: Math.max(2, 1.4 * fwhm), inner: Math.max(5, 2.6 * fwhm), outer: Math.max(9, 4.4 * fwhm) });

/** Parts of a pixel's side that tell how much of a pixel a circle covers. */
const PARTS = 5;

/** The share of the pixel at (dx, dy) from the centre that lies within the radius. */
function covered(dx: number, dy: number, radius: number): number {
  const d = Math.hypot(dx, dy);
  if (d + 0.7072 <= radius) return 1;
  if (d - 0.7072 >= radius) return 0;
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

/** Median and σ (1.4826 × MAD) of a list, its upper side clipped once: neighbours brighten a ring, nothing darkens it. */
function ringSky(values: number[]): { sky: number; sigma: number } {
  const middle = (list: number[]) => list[list.length >> 1];
  const spread = (list: number[], centre: number) => 1.4826 * middle(list.map((v) => Math.abs(v - centre)).sort((a, b) => a - b));
  values.sort((a, b) => a - b);
  const first = middle(values);
  const cut = first + 2.5 * spread(values, first);
  const kept = values.filter((v) => v <= cut);
  const sky = middle(kept);
  return { sky, sigma: spread(kept, sky) };
}

/**
 * Sums the light in a circle over the sky of a ring (Howell 1989).
 * @param x centre of the star in the plane's pixels
 * @returns undefined where the circle or most of the ring lies on no data
 */
export function photometer(values: Float32Array, width: number, height: number, x: number, y: number, { radius, inner, outer }: Aperture): Flux | undefined {
  const ring: number[] = [];
  let sum = 0;
  let area = 0;
  let ringPixels = 0;
  for (let j = Math.ceil(y - outer); j <= Math.floor(y + outer); j++) {
    for (let i = Math.ceil(x - outer); i <= Math.floor(x + outer); i++) {
      const d2 = (i - x) ** 2 + (j - y) ** 2;
      if (d2 > outer * outer) continue;
      const v = i >= 0 && j >= 0 && i < width && j < height ? values[j * width + i] : Number.NaN;
      if (d2 <= (radius + 1) ** 2) {
        const share = covered(i - x, j - y, radius);
        if (share > 0) {
          if (v !== v) return undefined;
          sum += share * v;
          area += share;
        }
      }
      if (d2 >= inner * inner) {
        ringPixels++;
        if (v === v) ring.push(v);
      }
    }
  }
  if (ring.length < 12 || ring.length < ringPixels / 2) return undefined;
  const n = ring.length;
  const { sky, sigma } = ringSky(ring);
  // The sky's own error counts once a pixel of the circle; a median is π/2 less sure than a mean.
  return { flux: sum - area * sky, fluxError: sigma * Math.sqrt(area + ((Math.PI / 2) * area * area) / n), sky };
}
