import { type DataMargins, dataMargins } from '@owl-loom/image/pyramid/data-margins';
import { defineMeasurement } from './kind';

/** Where an image ends before the frame does. */
export interface EndsSpec {
  readonly kind: 'ends';
  readonly nodes: readonly [number];
}

export interface EndsFigure {
  readonly kind: 'ends';
  /** In full-size pixels; null where it has no data in the frame. */
  readonly ends: DataMargins | null;
}

export const marginsKind = defineMeasurement<EndsSpec, EndsFigure>({
  kind: 'ends',
  called: 'the edges of',
  version: 1,
  grid: 'frame',
  planes: 'together',
  estimatePixels: 600_000,
  measure: ({ images: [image], level }) => {
    const found = dataMargins(image);
    const n = 2 ** level;
    if (!found) return { kind: 'ends', ends: null };
    const { left, right, bottom, top } = found;
    return { kind: 'ends', ends: { left: n * left, right: n * right, bottom: n * bottom, top: n * top } };
  },
  // Other numbers at the same places.
  propagateLinear: (figure) => figure,
});
