import { toFull } from '../raster/levels';
import type { Raster } from '../raster/raster';
import { eachNear, type Sorted } from './less';
import { valueAt } from './table';

/** Places of a pixel's side at which a star's light is taken: a narrow star bends within one. */
const PARTS = 3;

/**
 * Lays each star onto the image without stars, drawn in towards its middle: its own light alone, so that no neighbour comes with it.
 * @param bare the image without stars, and the image itself, on the same window
 * @param by how much narrower a star becomes, from 1 on
 * @param share 0 to 1: how much of the image is taken so; the rest stays as it is
 */
export function shrunkStars(
  bare: Raster,
  whole: Raster,
  out: Raster,
  stars: readonly Sorted[],
  { by, share }: { readonly by: number; readonly share: number },
  level: number,
): void {
  const { rect } = out;
  const n = 2 ** level;
  const off = (n - 1) / 2;
  out.planes.forEach((to, p) => {
    const [a, b] = [whole.planes[p], bare.planes[p]];
    for (let i = 0; i < to.length; i++) to[i] = a[i] + share * (b[i] - a[i]);
    eachNear(stars[Math.min(p, stars.length - 1)], rect, level, ({ x, y, table, reach }) => {
      const far = reach / by;
      const left = Math.max(rect.x, Math.floor((x - far - off) / n));
      const right = Math.min(rect.x + rect.width - 1, Math.ceil((x + far - off) / n));
      const foot = Math.max(rect.y, Math.floor((y - far - off) / n));
      const head = Math.min(rect.y + rect.height - 1, Math.ceil((y + far - off) / n));
      for (let j = foot; j <= head; j++) {
        for (let i = left; i <= right; i++) {
          const [u, v] = [toFull(i, level) - x, toFull(j, level) - y];
          let sum = 0;
          for (let k = 0; k < PARTS * PARTS; k++) {
            const r = Math.hypot(
              u + n * (((k % PARTS) + 0.5) / PARTS - 0.5),
              v + n * ((Math.floor(k / PARTS) + 0.5) / PARTS - 0.5),
            );
            sum += valueAt(table, by * r);
          }
          to[(j - rect.y) * rect.width + i - rect.x] += (share * sum) / (PARTS * PARTS);
        }
      }
    });
  });
}
