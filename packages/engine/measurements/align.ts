import { type Affine, IDENTITY, mapPoint } from '@owl-loom/image/geometry/affine';
import { type Alignment, alignStars, selectMatchStars } from '@owl-loom/algorithms/registration/align';
import { alignStructures, type StructureAlignment } from '@owl-loom/algorithms/registration/structures';
import type { AlignModel } from '@owl-loom/algorithms/registration/solve';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { defineMeasurement } from './kind';
import { unpackFields, referencePlane } from './stars';

/** How the first image lies on the second. */
export interface AlignSpec {
  readonly kind: 'align';
  readonly nodes: readonly [number, number];
  readonly model: AlignModel;
  /** By stars where it is left out. */
  readonly by?: 'structures';
}

export type AlignFigure = { readonly kind: 'align' } & Alignment &
  Partial<Pick<StructureAlignment, 'correlation' | 'certainty'>>;

/** A map between the pixels of two rasters as one between places of the frame. */
function between(from: Rect, map: Affine, to: Rect): Affine {
  const [tx, ty] = mapPoint(map, -from.x, -from.y);
  return { ...map, tx: tx + to.x, ty: ty + to.y };
}

export const align = defineMeasurement<AlignSpec, AlignFigure>({
  kind: 'align',
  called: 'the alignment of',
  version: 4,
  grid: 'own',
  planes: 'together',
  pixelInputs: ({ by }) => (by ? [0, 1] : []),
  dependsOn: ({ nodes, by }) => (by ? [] : nodes.map((node) => ({ kind: 'stars' as const, nodes: [node] as const }))),
  measure: ({ spec, images, on }) => {
    if (spec.by) {
      const [mine, theirs] = images.map(({ planes, rect: { width, height } }) => ({
        plane: referencePlane(planes),
        width,
        height,
      }));
      const found = alignStructures(mine, theirs, spec.model);
      return { kind: 'align', ...found, map: between(images[0].rect, found.map, images[1].rect) };
    }
    const [target, reference] = on.map((figure) => selectMatchStars(referencePlane(unpackFields(figure)).stars));
    return { kind: 'align', ...alignStars(target, reference, spec.model) };
  },
  placeholder: () => ({ kind: 'align', map: IDENTITY, rms: Number.NaN, matched: 0, mirrored: false }),
});
