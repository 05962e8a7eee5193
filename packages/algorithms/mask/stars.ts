import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import type { StarField } from '../stars/field';
import { moffatRadius } from '../stars/moffat';
import { partitionPoint } from '@owl-loom/image/stats/sorted';
import { smoothstep } from '@owl-loom/image/math/smoothstep';

/** Where a star's mask begins to fall, as a share of its reach. */
const FULL = 0.7;

interface Disc {
  readonly x: number;
  readonly y: number;
  readonly reach: number;
}

/**
 * How far a star's light can be seen: to where its profile, Moffat's, falls to the noise.
 * @returns pixels at full size
 */
export function visibleRadius(
  star: { readonly peak: number; readonly fwhm: number },
  noise: number,
  beta: number,
): number {
  return Math.max(star.fwhm, moffatRadius(star.fwhm, beta, star.peak / noise));
}

/**
 * A mask of stars: 1 on each as far as `grow` times its reach, falling smoothly to 0 over the outer third of that.
 * @param field in full-size frame pixels
 */
export function starMaskKernel({ stars, noise, beta }: StarField, grow: number, level: number): PixelFunction {
  const discs: Disc[] = stars
    .map((star) => ({ x: star.x, y: star.y, reach: grow * visibleRadius(star, noise, beta) }))
    .filter(({ reach }) => reach > 0)
    .sort((a, b) => a.y - b.y);
  const widest = discs.reduce((max, { reach }) => Math.max(max, reach), 0);
  const n = 2 ** level;
  return (_, out) => {
    const { rect } = out;
    const [target] = out.planes;
    target.fill(0);
    const [bottom, top] = [toFullSize(rect.y, level), toFullSize(rect.y + rect.height - 1, level)];
    const off = (n - 1) / 2;
    const first = partitionPoint(0, discs.length, (k) => discs[k].y >= bottom - widest);
    for (let k = first; k < discs.length && discs[k].y <= top + widest; k++) {
      const { x, y, reach } = discs[k];
      const left = Math.max(rect.x, Math.ceil((x - reach - off) / n));
      const right = Math.min(rect.x + rect.width - 1, Math.floor((x + reach - off) / n));
      const lowest = Math.max(rect.y, Math.ceil((y - reach - off) / n));
      const highest = Math.min(rect.y + rect.height - 1, Math.floor((y + reach - off) / n));
      for (let j = lowest; j <= highest; j++) {
        for (let i = left; i <= right; i++) {
          const [u, v] = [toFullSize(i, level) - x, toFullSize(j, level) - y];
          const t = Math.sqrt(u * u + v * v) / reach;
          if (t >= 1) continue;
          const value = smoothstep((1 - t) / (1 - FULL));
          const at = (j - rect.y) * rect.width + i - rect.x;
          if (value > target[at]) target[at] = value;
        }
      }
    }
  };
}
