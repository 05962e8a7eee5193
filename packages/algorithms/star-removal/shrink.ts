import type { Raster } from '@owl-loom/image/raster/raster';
import { forEachStarPixel } from './add-star';
import { forEachStarNear, type StarIndex } from './subtract-stars';
import { overSpike } from './spike';
import { profileAt } from './radial-profile';

/** Places of a pixel's side at which a star's light is taken: a narrow star bends within one. */
const PARTS = 3;

/**
 * Lays each star onto the image without stars, drawn in towards its middle: its own light alone, so that no neighbour comes with it.
 * @param bare the image without stars, and the image itself, on the same window
 * @param by how much narrower a star becomes, from 1 on
 * @param share 0 to 1: how much of the image is taken so; the rest stays as it is
 */
export function drawShrunkStars(
  bare: Raster,
  whole: Raster,
  out: Raster,
  stars: readonly StarIndex[],
  { by, share }: { readonly by: number; readonly share: number },
  level: number,
): void {
  const { rect } = out;
  out.planes.forEach((to, p) => {
    const [a, b] = [whole.planes[p], bare.planes[p]];
    for (let i = 0; i < to.length; i++) to[i] = a[i] + share * (b[i] - a[i]);
    forEachStarNear(stars[Math.min(p, stars.length - 1)], rect, level, (beam) => {
      const { table, reach } = beam;
      const light = (r: number) => profileAt(table, by * r);
      forEachStarPixel(rect, level, beam, reach / by, PARTS, light, (at, mean) => {
        to[at] += share * mean;
      });
      for (const spike of beam.spikes)
        overSpike(rect, level, beam, spike, by, (at, mean) => {
          to[at] += share * mean;
        });
    });
  });
}
