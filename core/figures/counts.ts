import { type Counts, countsOf } from '../stats/summary';
import { figureKind } from './kind';

/** How often each brightness occurs; `stretched` images are counted from 0 to 1, others where almost all of their pixels lie. */
export interface CountsSpec {
  readonly kind: 'counts';
  readonly nodes: readonly [number];
  readonly stretched: boolean;
}

export interface CountsFigure {
  readonly kind: 'counts';
  readonly planes: readonly Counts[];
}

export const counts = figureKind<CountsSpec, CountsFigure>({
  kind: 'counts',
  called: 'the values of',
  version: 1,
  place: 'frame',
  planes: 'apart',
  measure: ({ spec, images: [image] }) => ({
    kind: 'counts',
    planes: image.planes.map((plane) => countsOf(plane, spec.stretched)),
  }),
});
