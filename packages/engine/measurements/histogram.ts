import { type HistogramBins, histogramOf } from '@owl-loom/image/stats/summary';
import { defineMeasurement } from './kind';

/** How often each brightness occurs; `stretched` images are counted from 0 to 1, others where almost all of their pixels lie. */
export interface CountsSpec {
  readonly kind: 'counts';
  readonly nodes: readonly [number];
  readonly stretched: boolean;
}

export interface CountsFigure {
  readonly kind: 'counts';
  readonly planes: readonly HistogramBins[];
}

export const histogramKind = defineMeasurement<CountsSpec, CountsFigure>({
  kind: 'counts',
  called: 'the values of',
  version: 1,
  grid: 'frame',
  planes: 'apart',
  measure: ({ spec, images: [image] }) => ({
    kind: 'counts',
    planes: image.planes.map((plane) => histogramOf(plane, spec.stretched)),
  }),
});
