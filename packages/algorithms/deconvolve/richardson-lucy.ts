import { smoothstep } from '@owl-loom/image/math/smoothstep';
import { B3, smooth } from '@owl-loom/image/kernels/smooth';
import { convolveWithPsf, type Psf } from './psf';

/**
 * Mean square of the residuals about a pixel, in squares of the noise: up to the first they are taken for noise and change nothing, from the
 * second on they count in full.
 */
const NOISE = 2;
const LIGHT = 5;
/** Full widths to a step of the kernel that gathers them. */
const GATHERED = 2.5;
/** A round never changes a pixel by more than this. */
const MOST = 4;

/**
 * Richardson (1972) and Lucy (1974), damped as White (1994) has it, though by what lies about each pixel within a star's width: so a star's
 * core and flanks, of which the one gains what the others lose, count alike, and its light is kept. Gives the image that, smoothed by the
 * stars' profile, is the plane as far as its noise tells. It begins with the plane itself, so that what no round changes keeps its noise.
 * @param plane numbers above a level below which there is no light; no data as NaN
 * @param noise of each pixel
 * @param strength share of each round's change that is taken, 0 to 1
 */
export function richardsonLucy(
  plane: Float32Array,
  { width, height, there }: { width: number; height: number; there: Float32Array | undefined },
  psf: Psf,
  noise: Float32Array,
  { fwhm, rounds, strength }: { fwhm: number; rounds: number; strength: number },
): Float32Array {
  const now = plane.map((v) => (v > 0 ? v : 0));
  const step = Math.max(1, Math.round(fwhm / GATHERED));
  const power = new Float32Array(plane.length);
  const ratio = new Float32Array(plane.length);
  for (let round = 0; round < rounds; round++) {
    const model = convolveWithPsf(psf, now, width, height, there);
    for (let i = 0; i < ratio.length; i++) {
      const off = plane[i] - model[i];
      power[i] = off === off ? (off / noise[i]) ** 2 : 0;
    }
    const gathered = smooth(power, width, height, B3, step, there);
    for (let i = 0; i < ratio.length; i++) {
      const by = model[i] > 0 ? plane[i] / model[i] - 1 : 0;
      const counts = smoothstep((gathered[i] - NOISE) / (LIGHT - NOISE));
      ratio[i] = by === by && counts > 0 ? by * counts : 0;
    }
    const change = convolveWithPsf(psf, ratio, width, height, there);
    for (let i = 0; i < now.length; i++) {
      const by = 1 + strength * change[i];
      now[i] *= Math.min(MOST, Math.max(1 / MOST, by));
    }
  }
  return now;
}
