import { type HueRange, hueShareOf } from '../colour/hue-share';
import { oklabOf } from '../colour/oklch';
import { quickDecoded } from '../colour/tables';
import type { Apply } from '../engine/kernel';

/**
 * The share of each pixel of a colour image in a family of hues; no data where any plane has none.
 * @param isCoded whether its numbers are coded by sRGB; else they are light
 */
export function hueShares(
  [red, green, blue]: readonly Float32Array[],
  range: HueRange,
  isCoded: boolean,
  target: Float32Array,
): void {
  const share = hueShareOf(range);
  const light = isCoded ? quickDecoded : (v: number) => v;
  for (let i = 0; i < target.length; i++) {
    const [r, g, b] = [red[i], green[i], blue[i]];
    if (r !== r || g !== g || b !== b) {
      target[i] = Number.NaN;
      continue;
    }
    const [, x, y] = oklabOf([light(r), light(g), light(b)]);
    target[i] = share(x, y);
  }
}

/** {@link hueShares} as a kernel. */
export const hueKernel =
  (range: HueRange, isCoded: boolean): Apply =>
  ([{ planes }], out) =>
    hueShares(planes, range, isCoded, out.planes[0]);
