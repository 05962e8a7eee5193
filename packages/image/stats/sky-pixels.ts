import { skyLevel } from './sky';

/**
 * Which pixels show sky: those whose brightness lies within some σ of the sky's.
 * @param at indices of pixels
 * @param light brightness of each, no NaN
 * @returns the indices of those that do
 */
export function skyPixels(at: readonly number[], light: readonly number[], sigmas: number): number[] {
  const { sky, sigma } = skyLevel(Float32Array.from(light));
  return at.filter((_, k) => Math.abs(light[k] - sky) <= sigmas * sigma);
}
