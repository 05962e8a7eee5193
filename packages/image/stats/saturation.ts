import { countAtLeast, planeMaxima } from '../kernels/extremes';

/** How many pixels must pile up at the top before it is a ceiling and not a peak. */
const PILE = 5;

/**
 * The value from which pixels count as saturated: just under the greatest one where several pixels pile up there;
 * infinity where the greatest value is a lone peak.
 */
export function saturationLevel(values: Float32Array): number {
  const { max, count, tops } = planeMaxima(values);
  if (!(max > 0)) return Number.POSITIVE_INFINITY;
  const piled = countAtLeast(values, max * 0.999, tops);
  // A picture that lies almost wholly at one value is flat, not saturated.
  return piled >= PILE && piled < count / 4 ? max * 0.995 : Number.POSITIVE_INFINITY;
}
