import type { Raster } from '@owl-loom/image/raster/raster';
import { LUMINANCE } from '@owl-loom/algorithms/colour/luminance';
import type { Veil } from './protocol';

/** What a hidden colour keeps of its light as grey, and the least grey, so that it shows on black as well. */
const KEPT = 0.35;
const LEAST = 14;
/** Pixels from one stripe to the next, and how wide each is. */
const APART = 10;
const WIDE = 2;
/** The stripes' grey, and how much of it is seen. */
const STRIPE = 150;
const SEEN = 0.75;

/**
 * Shows on a picture what a mask hides.
 * @param rgba rows from the top down, changed in place
 * @param mask of the same pixels; no data in it hides
 */
export function drawMaskOverlay(rgba: Uint8ClampedArray, mask: Raster, as: Veil): void {
  const { width, height, x, y } = mask.rect;
  const [values] = mask.planes;
  for (let j = 0; j < height; j++) {
    let at = (height - 1 - j) * width * 4;
    for (let i = 0; i < width; i++, at += 4) {
      const m = values[j * width + i];
      const hidden = m >= 1 ? 0 : m > 0 ? 1 - m : 1;
      if (hidden === 0 || rgba[at + 3] === 0) continue;
      if (as === 'hatch') {
        if ((((x + i + y + j) % APART) + APART) % APART >= WIDE) continue;
        for (let c = 0; c < 3; c++) rgba[at + c] += (STRIPE - rgba[at + c]) * SEEN * hidden;
        continue;
      }
      const light = LUMINANCE[0] * rgba[at] + LUMINANCE[1] * rgba[at + 1] + LUMINANCE[2] * rgba[at + 2];
      const grey = LEAST + KEPT * light;
      for (let c = 0; c < 3; c++) rgba[at + c] += (grey - rgba[at + c]) * hidden;
    }
  }
}
