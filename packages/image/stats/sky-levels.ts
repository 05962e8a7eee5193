import { medianOfList } from './median';
import { planeNoise } from './noise';
import { skyLevel } from './sky';
import { skyPixels } from './sky-pixels';

/** Pixels that are looked at, at most. */
const MAX_PIXELS = 400_000;
/** Pixels whose mean brightness lies within so many σ of the sky's are sky. */
const MAX_SIGMAS = 1.5;

/**
 * Sky level of each plane of a colour image, from the same pixels in all planes: those whose brightness, the mean over the planes in units of
 * each plane's noise, lies about the sky's. Clipped plane by plane, faint nebula would lift the sky of a noisy plane more than that of a quiet
 * one, and levelling would tint the true sky.
 */
export function skyLevelsOf(planes: readonly Float32Array[], width: number, height: number): number[] {
  const skies = planes.map((plane) => skyLevel(plane).sky);
  const noises = planes.map((plane) => planeNoise(plane, width, height) || 1);
  const step = Math.max(1, Math.round((width * height) / MAX_PIXELS));
  const at: number[] = [];
  const light: number[] = [];
  for (let i = 0; i < width * height; i += step) {
    const sum = planes.reduce((all, plane, p) => all + (plane[i] - skies[p]) / noises[p], 0);
    if (sum !== sum) continue;
    at.push(i);
    light.push(sum);
  }
  if (at.length === 0) return skies;
  const within = skyPixels(at, light, MAX_SIGMAS);
  if (within.length === 0) return skies;
  return planes.map((plane) => medianOfList(within.map((i) => plane[i])));
}
