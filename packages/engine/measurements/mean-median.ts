import { planeStatistics } from '@owl-loom/image/stats/plane-statistics';
import { defineMeasurement } from './kind';

/** Median and mean of the whole. */
export interface MiddleSpec {
  readonly kind: 'middle';
  readonly nodes: readonly [number];
}

/** Two middles of one plane, no data left out. */
export interface MeanMedian {
  readonly median: number;
  readonly mean: number;
}

export interface MiddleFigure {
  readonly kind: 'middle';
  readonly planes: readonly MeanMedian[];
}

export const meanMedianKind = defineMeasurement<MiddleSpec, MiddleFigure>({
  kind: 'middle',
  called: 'the middle of',
  version: 1,
  grid: 'frame',
  planes: 'apart',
  measure: ({ images: [image] }) => ({
    kind: 'middle',
    planes: image.planes.map((plane) => {
      const { quantiles, mean } = planeStatistics(plane, [0.5]);
      return { median: quantiles[0], mean };
    }),
  }),
  propagateLinear: ({ planes }, { a, b }) => ({
    kind: 'middle',
    planes: planes.map((m, p) => {
      const [add, by] = [a[p % a.length], b[p % b.length]];
      return { median: add + by * m.median, mean: add + by * m.mean };
    }),
  }),
});
