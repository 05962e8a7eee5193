import { planeOf, type Raster } from '@owl-loom/image/raster/raster';
import type { ImageDifference } from './protocol';

/** From this on a difference is one that can be seen. */
const SEEN = 1 / 255;

/** How far two images of the same pixels lie apart, where both have data; a mono one counts as grey. */
export function imageDifference(a: Raster, b: Raster): ImageDifference {
  const planes = Math.max(a.planes.length, b.planes.length);
  let [most, seen, counted] = [0, 0, 0];
  for (let i = 0; i < a.planes[0].length; i++) {
    let max = 0;
    for (let p = 0; p < planes; p++) {
      const by = Math.abs(planeOf(a, p)[i] - planeOf(b, p)[i]);
      // No data in any plane: nothing to be told.
      if (!(by <= Number.MAX_VALUE)) {
        max = Number.NaN;
        break;
      }
      if (by > max) max = by;
    }
    if (Number.isNaN(max)) continue;
    counted++;
    if (max > most) most = max;
    if (max > SEEN) seen++;
  }
  return { most, share: counted > 0 ? seen / counted : 0 };
}
