import { noiseOf } from '../stats/noise';
import { skyOf } from '../stats/sky';
import type { ContinuumInput } from './input';

type PixelPair = Pick<ContinuumInput, 'line' | 'broad' | 'width' | 'height'>;

/** Share of pixels of `N − k·(C − sky)` below its sky − 3 noise. */
export function shareBelowSky({ line, broad, width, height }: PixelPair, k: number): number {
  const sky = skyOf(broad).sky;
  const left = line.map((v, i) => v - k * (broad[i] - sky));
  const floor = skyOf(left).sky - 3 * noiseOf(left, width, height);
  let below = 0;
  let there = 0;
  for (let i = 0; i < left.length; i++) {
    if (left[i] !== left[i]) continue;
    there++;
    if (left[i] < floor) below++;
  }
  return there > 0 ? below / there : 0;
}

/** Pixels from which shares at other k are told. */
const SAMPLED = 120_000;

/** {@link shareBelowSky} at k from nothing to twice the right one, from a part of the pixels, the noises taken to add as squares. */
export function sharesBelowSky({ line, broad, width, height }: PixelPair, k: number): [number, number][] {
  const step = Math.max(1, Math.floor(line.length / SAMPLED));
  const part = (plane: Float32Array) =>
    Float32Array.from({ length: Math.floor(plane.length / step) }, (_, i) => plane[i * step]);
  const [n, c] = [part(line), part(broad)];
  const sky = skyOf(c).sky;
  const [noiseN, noiseC] = [noiseOf(line, width, height), noiseOf(broad, width, height)];
  return Array.from({ length: 17 }, (_, j): [number, number] => {
    const at = (j / 8) * k;
    const left = n.map((v, i) => v - at * (c[i] - sky));
    const floor = skyOf(left).sky - 3 * Math.hypot(noiseN, at * noiseC);
    const there = left.filter((v) => v === v);
    return [at, there.filter((v) => v < floor).length / Math.max(1, there.length)];
  });
}
