import { planeNoise } from '@owl-loom/image/stats/noise';
import { countAtLeast } from '@owl-loom/image/kernels/extremes';
import { weightedSum } from '@owl-loom/image/kernels/weighted-sum';
import { planeStatistics } from '@owl-loom/image/stats/plane-statistics';
import type { ContinuumInput } from './input';

type PixelPair = Pick<ContinuumInput, 'line' | 'broad' | 'broadSky' | 'width' | 'height'>;

/** Share of pixels of `N − k·(C − sky)` below its sky − 3 noise. */
export function fractionBelowSky({ line, broad, broadSky, width, height }: PixelPair, k: number): number {
  const left = new Float32Array(line.length);
  weightedSum([line, broad], [1, -k], k * broadSky, left);
  const { count, sky: own } = planeStatistics(left);
  const floor = own.sky - 3 * planeNoise(left, width, height);
  // Of those that have data, all that are not above.
  return count > 0 ? (count - countAtLeast(left, floor)) / count : 0;
}

/** Pixels from which shares at other k are told. */
const SAMPLED = 59_000;

/** {@link fractionBelowSky} at k from nothing to twice the right one, from a part of the pixels, the noises taken to add as squares. */
export function sharesBelowSky(
  { line, broad, broadSky, lineNoise, broadNoise }: ContinuumInput,
  k: number,
): [number, number][] {
  const step = Math.max(1, Math.floor(line.length / SAMPLED));
  const part = (plane: Float32Array) =>
    Float32Array.from({ length: Math.floor(plane.length / step) }, (_, i) => plane[i * step]);
  const [n, c] = [part(line), part(broad)];
  const left = new Float32Array(n.length);
  return Array.from({ length: 17 }, (_, j): [number, number] => {
    const at = (j / 8) * k;
    weightedSum([n, c], [1, -at], at * broadSky, left);
    const { count, sky: own } = planeStatistics(left);
    const floor = own.sky - 3 * Math.hypot(lineNoise, at * broadNoise);
    return [at, (count - countAtLeast(left, floor)) / Math.max(1, count)];
  });
}
