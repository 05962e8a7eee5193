import { IDENTITY } from '../align/affine';
import { type Alignment, alignStars, starsToMatch } from '../align/align';
import type { AlignModel } from '../align/solve';
import { figureKind } from './kind';
import { fieldsOf, starPlane } from './stars';

/** How the first image lies on the second. */
export interface AlignSpec {
  readonly kind: 'align';
  readonly nodes: readonly [number, number];
  readonly model: AlignModel;
}

export type AlignFigure = { readonly kind: 'align' } & Alignment;

export const align = figureKind<AlignSpec, AlignFigure>({
  kind: 'align',
  version: 3,
  place: 'own',
  planes: 'together',
  looksAt: () => [],
  standsOn: ({ nodes }) => nodes.map((node) => ({ kind: 'stars', nodes: [node] })),
  measure: ({ spec, on }) => {
    const [target, reference] = on.map((figure) => starsToMatch(starPlane(fieldsOf(figure)).stars));
    return { kind: 'align', ...alignStars(target, reference, spec.model) };
  },
  standIn: () => ({ kind: 'align', map: IDENTITY, rms: Number.NaN, matched: 0, mirrored: false }),
});
