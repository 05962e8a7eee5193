import { toFullSize } from '@owl-loom/image/geometry/level-position';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { StarLight } from './packed';
import { overSpike, type Spike } from './spike';
import { profileAt } from './radial-profile';

/**
 * Goes over the pixels of a level that a star's light may reach, with the mean of it over each.
 * @param far how far it reaches, in full-size pixels
 * @param parts places of a pixel's side at which it is taken
 * @param light by the distance from the star's middle, in full-size pixels
 * @param deed is given the pixel's index in `rect`
 */
export function forEachStarPixel(
  rect: Rect,
  level: number,
  { x, y }: { readonly x: number; readonly y: number },
  far: number,
  parts: number,
  light: (radius: number) => number,
  deed: (at: number, mean: number) => void,
): void {
  const n = 2 ** level;
  const off = (n - 1) / 2;
  const left = Math.max(rect.x, Math.floor((x - far - off) / n));
  const right = Math.min(rect.x + rect.width - 1, Math.ceil((x + far - off) / n));
  const bottom = Math.max(rect.y, Math.floor((y - far - off) / n));
  const top = Math.min(rect.y + rect.height - 1, Math.ceil((y + far - off) / n));
  for (let j = bottom; j <= top; j++) {
    for (let i = left; i <= right; i++) {
      const [u, v] = [toFullSize(i, level) - x, toFullSize(j, level) - y];
      let sum = 0;
      for (let b = 0; b < parts; b++) {
        for (let a = 0; a < parts; a++)
          sum += light(Math.hypot(u + n * ((a + 0.5) / parts - 0.5), v + n * ((b + 0.5) / parts - 0.5)));
      }
      deed((j - rect.y) * rect.width + i - rect.x, sum / (parts * parts));
    }
  }
}

/** Adds a star's round light to a plane, `sign` times. */
export function addStarLight(
  plane: Float32Array,
  width: number,
  height: number,
  star: Pick<StarLight, 'x' | 'y' | 'table' | 'reach'>,
  sign: 1 | -1,
): void {
  const { table, reach } = star;
  const light = (r: number) => (r < reach ? profileAt(table, r) : 0);
  forEachStarPixel({ x: 0, y: 0, width, height }, 0, star, reach, 1, light, (at, value) => {
    plane[at] += sign * value;
  });
}

/** Adds a star's spikes to a plane, `sign` times. */
export function addSpikes(
  plane: Float32Array,
  width: number,
  height: number,
  star: { readonly x: number; readonly y: number },
  spikes: readonly Spike[],
  sign: 1 | -1,
): void {
  for (const spike of spikes)
    overSpike({ x: 0, y: 0, width, height }, 0, star, spike, 1, (at, light) => {
      plane[at] += sign * light;
    });
}
