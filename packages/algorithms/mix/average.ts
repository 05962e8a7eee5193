import { planeOf } from '@owl-loom/image/raster/raster';
import { PartialCoverageTally } from './partial-coverage';
import type { PlaneBackground } from '@owl-loom/image/stats/background';
import type { PixelFunction } from '@owl-loom/image/pixel-function';

/** Weight of an image by what it shows: (spread of its signal / its noise)², the mean over its planes. */
export function signalWeight(tones: readonly PlaneBackground[]): number {
  const squares = tones.map((t) => (t.noise > 0 ? (t.spread / t.noise) ** 2 : Number.NaN)).filter(Number.isFinite);
  return squares.reduce((sum, s) => sum + s, 0) / squares.length;
}

/** Weights as shares of 1; equal ones where the measurements say nothing usable. */
export function normaliseWeights(weights: readonly number[]): number[] {
  const usable = weights.every((w) => Number.isFinite(w) && w > 0);
  const total = weights.reduce((sum, w) => sum + w, 0);
  return weights.map((w) => (usable ? w / total : 1 / weights.length));
}

/** The weighted mean of images of as many planes, pixel by pixel over those that have data there. */
export function averageKernel(weights: readonly number[]): PixelFunction {
  const parts = weights.map((weight) => ({ weight, factor: weight, add: 0 }));
  return (inputs, out, tally) => {
    const partly = new PartialCoverageTally(out.planes[0].length);
    out.planes.forEach((target, p) => {
      const planes = inputs.map((input) => planeOf(input, p));
      partly.weigh(planes, parts, true, target);
    });
    partly.tell(tally);
  };
}
