import { type Seeing, seeingOf } from '../continuum/seeing';
import { figureKind } from './kind';
import { fieldsOf } from './stars';

/** How wide the stars of an image are. */
export interface SeeingSpec {
  readonly kind: 'seeing';
  readonly nodes: readonly [number];
}

export interface SeeingFigure {
  readonly kind: 'seeing';
  readonly planes: readonly Seeing[];
}

export const seeing = figureKind<SeeingSpec, SeeingFigure>({
  kind: 'seeing',
  called: 'the star widths of',
  version: 4,
  place: 'own',
  planes: 'together',
  looksAt: () => [],
  standsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ on }) => ({ kind: 'seeing', planes: fieldsOf(on[0]).map(seeingOf) }),
  standIn: (_, planes) => ({
    kind: 'seeing',
    planes: Array.from({ length: planes }, () => ({ fwhm: 0, stars: 0, beta: 20 })),
  }),
});
