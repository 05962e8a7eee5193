import { type HueRange, hueShareOf } from '../colour/hue-share';
import { oklabReader } from '../colour/oklab-reader';
import type { Apply } from '../engine/kernel';

/**
 * The share of each pixel of a colour image in a family of hues; no data where any plane has none.
 * @param isCoded whether its numbers are coded by sRGB; else they are light
 */
export function hueShares(planes: Float32Array[], range: HueRange, isCoded: boolean, target: Float32Array): void {
  const share = hueShareOf(range);
  const lab = oklabReader({ planes }, isCoded ? 'stretched' : 'linear');
  for (let i = 0; i < target.length; i++) {
    const [l, a, b] = lab(i);
    target[i] = l === l ? share(a, b) : Number.NaN;
  }
}

/** {@link hueShares} as a kernel. */
export const hueKernel =
  (range: HueRange, isCoded: boolean): Apply =>
  ([{ planes }], out) =>
    hueShares(planes, range, isCoded, out.planes[0]);
