import { expectBackground } from '../../engine/measurements/index';
import type { PixelFunction, NodeKernel } from '#engine/node-kernel';
import { midtone, strengthFor } from '../tone/curves';

/** Where the sky of an image that came stretched is brought to before its stars are taken: about where linear images have it. */
const SKY = 0.01;

/**
 * The midtone curve of a strength, carried on by straight lines beyond 0 and 1, so that that of 1 − strength undoes it everywhere.
 * @param s between 0 and 1
 */
export function extendedMidtone(s: number): (t: number) => number {
  const [foot, head] = [(1 - s) / s, s / (1 - s)];
  return (t) => (t <= 0 ? foot * t : t >= 1 ? 1 + head * (t - 1) : midtone(t, s));
}

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
