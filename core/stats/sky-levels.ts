import { middleOf } from './middle';
import { noiseOf } from './noise';
import { skyOf } from './sky';

/** Pixels that are looked at, at most. */
const LOOKED = 400_000;
/** Pixels whose mean brightness lies within so many σ of the sky's are sky. */
const SKY = 1.5;

/**
 * Sky level of each plane of a colour image, from the same pixels in all planes: those whose brightness, the mean over the planes in units of
 * each plane's noise, lies about the sky's. Clipped plane by plane, faint nebula would lift the sky of a noisy plane more than that of a quiet
 * one, and levelling would tint the true sky.
 */
export function skyLevelsOf(planes: readonly Float32Array[], width: number, height: number): number[] {
  const skies = planes.map((plane) => skyOf(plane).sky);
  const noises = planes.map((plane) => noiseOf(plane, width, height) || 1);
  const step = Math.max(1, Math.round((width * height) / LOOKED));
  const at: number[] = [];
  const light: number[] = [];
  for (let i = 0; i < width * height; i += step) {
    const sum = planes.reduce((all, plane, p) => all + (plane[i] - skies[p]) / noises[p], 0);
    if (sum !== sum) continue;
    at.push(i);
    light.push(sum);
  }
  if (at.length === 0) return skies;
  const { sky, sigma } = skyOf(Float32Array.from(light));
  const within = at.filter((_, k) => Math.abs(light[k] - sky) <= SKY * sigma);
  if (within.length === 0) return skies;
  return planes.map((plane) => middleOf(within.map((i) => plane[i])));
}
