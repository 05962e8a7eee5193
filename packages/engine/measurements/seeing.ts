import { type Seeing, measureSeeing } from '@owl-loom/algorithms/continuum/seeing';
import { defineMeasurement } from './kind';
import { unpackFields } from './stars';

/** How wide the stars of an image are. */
export interface SeeingSpec {
  readonly kind: 'seeing';
  readonly nodes: readonly [number];
}

export interface SeeingFigure {
  readonly kind: 'seeing';
  readonly planes: readonly Seeing[];
}

export const seeing = defineMeasurement<SeeingSpec, SeeingFigure>({
  kind: 'seeing',
  called: 'the star widths of',
  version: 4,
  grid: 'own',
  planes: 'together',
  pixelInputs: () => [],
  dependsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ on }) => ({ kind: 'seeing', planes: unpackFields(on[0]).map(measureSeeing) }),
  placeholder: (_, planes) => ({
    kind: 'seeing',
    planes: Array.from({ length: planes }, () => ({ fwhm: 0, stars: 0, beta: 20 })),
  }),
});
