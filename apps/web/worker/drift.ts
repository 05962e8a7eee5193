import type { Drift, DriftKind } from '@owl-loom/algorithms/colour/drift';
import type { Raster } from '@owl-loom/image/raster/raster';
import { type Brightness, toRgba } from './paint';

/** At which move a colour of the scale's end is reached, in degrees and in OKLab's L and chroma; the page's scale says the same. */
export const DRIFT_ENDS: Readonly<Record<DriftKind, number>> = { hue: 30, lightness: 0.15, chroma: 0.08 };

/** Colours of the scale's ends: what has moved down or clockwise, and up or counter-clockwise. */
export const DRIFT_COLOURS = {
  down: [92, 157, 255],
  up: [240, 176, 97],
} as const;

/** What the picture keeps of its light under the map. */
const KEPT = 0.4;
/** The same where nothing is to be told. */
const LEFT_OUT = 0.12;
/** How bright a colour of the scale is on black; on white it is all of it. */
const SHADED = 0.35;

/**
 * A map of what has moved, over the picture in grey.
 * @param counts how much each pixel counts, 0 to 1; what does not is dark
 * @returns rows from the top down
 */
export function driftRgba(
  picture: Raster,
  how: Brightness,
  moved: Drift[DriftKind],
  kind: DriftKind,
  counts?: Float32Array,
): Uint8ClampedArray<ArrayBuffer> {
  const { width, height } = picture.rect;
  const rgba = toRgba(picture, how, false);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = ((height - 1 - y) * width + x) * 4;
      if (rgba[at + 3] === 0) continue;
      const i = y * width + x;
      const counted = counts ? Math.min(1, Math.max(0, counts[i] || 0)) : 1;
      const grey = (rgba[at] + rgba[at + 1] + rgba[at + 2]) / 3;
      const base = grey * (LEFT_OUT + (KEPT - LEFT_OUT) * counted);
      const by = moved[i] / DRIFT_ENDS[kind];
      const much = Number.isNaN(by) ? 0 : Math.min(1, Math.abs(by)) * counted;
      const end = by < 0 ? DRIFT_COLOURS.down : DRIFT_COLOURS.up;
      // The picture's own light stays to be seen under the strongest colour.
      const lit = SHADED + (1 - SHADED) * (grey / 255);
      for (let c = 0; c < 3; c++) rgba[at + c] = base + (end[c] * lit - base) * much;
    }
  }
  return rgba;
}
