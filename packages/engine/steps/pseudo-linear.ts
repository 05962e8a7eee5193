import { extendedMidtone } from '@owl-loom/algorithms/star-removal/pseudo-linear';
import { strengthFor } from '@owl-loom/algorithms/tone/curves';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { expectBackground } from '../measurements/index';
import type { NodeKernel } from '../node-kernel';

/** Where the sky of an image that came stretched is brought to before its stars are taken: about where linear images have it. */
const SKY = 0.01;

const over =
  (strengths: readonly number[]): PixelFunction =>
  ([from], out) =>
    out.planes.forEach((to, p) => {
      const curve = extendedMidtone(strengths[p % strengths.length]);
      const plane = from.planes[p];
      for (let i = 0; i < to.length; i++) to[i] = curve(plane[i]);
    });

/**
 * Two pointwise kernels by the tone of an image that came stretched: one that bends it back to something like linear light, and its inverse.
 * Which curve it had been stretched by nobody knows; what counts is that bright and faint stars look alike again.
 */
export function pseudoLinearKernels(): { back: NodeKernel; forth: NodeKernel } {
  const strengths = (figure: Parameters<typeof expectBackground>[0]): number[] =>
    expectBackground(figure).map(({ sky }) => (sky > SKY && sky < 1 ? strengthFor('midtone', sky, SKY) : 0.5));
  return {
    back: { prepare: ([tone]) => over(strengths(tone)) },
    forth: { prepare: ([tone]) => over(strengths(tone).map((s) => 1 - s)) },
  };
}
