import { gaussianTaps, smooth, type Taps } from '@owl-loom/image/kernels/smooth';
import { moffat } from '../stars/moffat';

/** A round star profile as a sum of Gaussians: each falls apart into rows and columns, which a Moffat profile does not. */
export interface Psf {
  readonly parts: readonly { readonly taps: Taps; readonly weight: number }[];
}

/** σ of the Gaussians, in full widths: from narrower than any profile's core to its wings. */
const SIGMAS = [0.37, 0.51, 0.86];
/** The profile is fitted out to so many full widths. */
const FITTED = 2.5;
const ROUNDS = 4000;

/**
 * The sum of Gaussians that comes nearest to Moffat's profile (1969) of light 1, each with its share of the light, none below nothing.
 * @param fwhm full width at half maximum, pixels
 * @param beta Moffat's β, above 1
 */
export function psfOf(fwhm: number, beta: number): Psf {
  const radii = Array.from({ length: 100 }, (_, i) => ((i + 0.5) / 100) * FITTED);
  // Of light 1 or not: the shares are brought to 1 in the end.
  const wanted = radii.map(moffat(1, beta));
  const bases = SIGMAS.map((s) => radii.map((r) => Math.exp(-0.5 * (r / s) ** 2) / (2 * Math.PI * s * s)));
  // Rings of equal width hold the more pixels the wider they are.
  const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + radii[i] * v * b[i], 0);
  const products = bases.map((a) => bases.map((b) => dot(a, b)));
  const aims = bases.map((a) => dot(a, wanted));
  const shares = SIGMAS.map(() => 1 / SIGMAS.length);
  for (let round = 0; round < ROUNDS; round++)
    for (let k = 0; k < shares.length; k++) {
      const rest = aims[k] - shares.reduce((sum, w, j) => sum + (j === k ? 0 : w * products[k][j]), 0);
      shares[k] = Math.max(0, rest / products[k][k]);
    }
  const sum = shares.reduce((a, b) => a + b, 0);
  return {
    parts: shares.flatMap((weight, k) =>
      weight > 1e-3 * sum ? [{ taps: gaussianTaps(SIGMAS[k] * fwhm), weight: weight / sum }] : [],
    ),
  };
}

/** Smooths a plane by a profile; what is absent is left out of the sums. */
export function convolveWithPsf(
  { parts }: Psf,
  plane: Float32Array,
  width: number,
  height: number,
  there: Float32Array | undefined,
): Float32Array {
  const out = new Float32Array(plane.length);
  for (const { taps, weight } of parts) {
    const smoothed = smooth(plane, width, height, taps, 1, there);
    for (let i = 0; i < out.length; i++) out[i] += weight * smoothed[i];
  }
  return out;
}
