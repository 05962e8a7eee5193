import { type HueRange, hueShareOf } from '../colour/hue-share';
import { oklabOf } from '../colour/oklch';
import { quickDecoded } from '../colour/tables';
import type { Apply } from '../engine/kernel';

/**
 * A colour image as the share of each pixel in a family of hues.
 * @param isCoded whether its numbers are coded by sRGB; else they are light
 */
export function hueKernel(range: HueRange, isCoded: boolean): Apply {
  const share = hueShareOf(range);
  const light = isCoded ? quickDecoded : (v: number) => v;
  return ([{ planes }], out) => {
    const [target] = out.planes;
    for (let i = 0; i < target.length; i++) {
      const [r, g, b] = [planes[0][i], planes[1][i], planes[2][i]];
      if (r !== r || g !== g || b !== b) {
        target[i] = Number.NaN;
        continue;
      }
      const [, x, y] = oklabOf([light(r), light(g), light(b)]);
      target[i] = share(x, y);
    }
  };
}
