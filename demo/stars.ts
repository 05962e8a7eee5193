import { starlight } from './passbands';
import { Random } from './random';

/** A star of a demo sky. */
export interface DemoStar {
  readonly x: number;
  readonly y: number;
  /** Kelvin. */
  readonly temperature: number;
  /** Flux at 550 nm before dust, in full wells. */
  readonly flux: number;
}

/** A field of stars: many faint, few bright, cool ones more than hot ones. */
export function starField(seed: number, width: number, height: number, count: number, faintest: number): DemoStar[] {
  const random = new Random(seed);
  return Array.from({ length: count }, () => {
    const x = -20 + (width + 40) * random.next();
    const y = -20 + (height + 40) * random.next();
    // Numbers fall as flux to the −0.72, as in a field a little off the galaxy's plane.
    const flux = faintest * (1 - random.next()) ** (-1 / 0.72);
    const temperature = Math.min(
      26_000,
      Math.max(2900, 5300 * Math.exp(0.42 * random.normal() + (random.next() < 0.16 ? 0.8 : 0))),
    );
    return { x, y, temperature, flux: Math.min(flux, 60) };
  });
}

/** Moffat's profile (1969) of wings β at a squared radius in units of α², its integral 1. */
const BETA = 3.4;

/** Adds a star's light, integrated over each pixel, out to where it sinks below a hundredth of the noise. */
export function addStar(
  plane: Float64Array,
  width: number,
  height: number,
  x: number,
  y: number,
  flux: number,
  fwhm: number,
  noise: number,
): void {
  const alpha2 = (fwhm / 2) ** 2 / (2 ** (1 / BETA) - 1);
  const norm = ((BETA - 1) / (Math.PI * alpha2)) * flux;
  const reach = Math.sqrt(alpha2 * Math.max(1, (norm / (0.01 * noise)) ** (1 / BETA) - 1));
  const radius = Math.min(400, Math.max(6, Math.ceil(reach)));
  for (let j = Math.max(0, Math.ceil(y - radius)); j <= Math.min(height - 1, Math.floor(y + radius)); j++) {
    for (let i = Math.max(0, Math.ceil(x - radius)); i <= Math.min(width - 1, Math.floor(x + radius)); i++) {
      const r2 = (i - x) ** 2 + (j - y) ** 2;
      if (r2 > radius * radius) continue;
      let sum = 0;
      if (r2 < 9 * alpha2) {
        // Near the core the profile bends within a pixel: 5x5 points stand for its area.
        for (let v = -2; v <= 2; v++) {
          for (let u = -2; u <= 2; u++) sum += (1 + ((i + u / 5 - x) ** 2 + (j + v / 5 - y) ** 2) / alpha2) ** -BETA;
        }
        sum /= 25;
      } else sum = (1 + r2 / alpha2) ** -BETA;
      plane[j * width + i] += norm * sum;
    }
  }
}

/** A star's flux at a wavelength before dust: its flux at 550 nm times its colour. */
export const fluxAt = (star: DemoStar, wavelength: number): number =>
  (star.flux * starlight(star.temperature, wavelength)) / starlight(star.temperature, 550);
