import type { Domain } from '../engine/kernel';
import { planeOf, type Raster } from '../raster/raster';
import { oklabOf } from './oklch';
import { quickDecoded } from './tables';

/**
 * A reader of OKLab's L, a and b of an image's pixels, by index; NaN where any plane has no data.
 * @param domain stretched numbers are decoded by sRGB, others are light
 */
export function oklabReader(image: Pick<Raster, 'planes'>, domain: Domain): (i: number) => [number, number, number] {
  const [r, g, b] = [0, 1, 2].map((p) => planeOf(image, p));
  const light = domain === 'stretched' ? quickDecoded : (v: number) => v;
  return (i) => oklabOf([light(r[i]), light(g[i]), light(b[i])]);
}
