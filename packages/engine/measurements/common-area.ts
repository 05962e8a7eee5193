import { largestCovered } from '@owl-loom/image/pyramid/coverage';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { defineMeasurement } from './kind';

/** The largest rectangle in which all images have data. */
export interface CommonSpec {
  readonly kind: 'common';
  readonly nodes: readonly number[];
}

export interface CommonFigure {
  readonly kind: 'common';
  /** Full-size pixels. */
  readonly rect: Rect;
}

export const commonAreaKind = defineMeasurement<CommonSpec, CommonFigure>({
  kind: 'common',
  called: 'the common area of',
  version: 1,
  grid: 'frame',
  planes: 'together',
  measure: ({ images, level }) => {
    const { x, y, width, height } = largestCovered(images);
    const n = 2 ** level;
    return { kind: 'common', rect: { x: x * n, y: y * n, width: width * n, height: height * n } };
  },
});
