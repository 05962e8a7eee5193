import { type PlaneTops, topsOf } from '../starless/tops';
import { figureKind } from './kind';
import { fieldsOf } from './stars';

/** The stars of an image that were cut off, and how high they stood, by their wings. */
export interface TopsSpec {
  readonly kind: 'tops';
  readonly nodes: readonly [number];
}

export interface TopsFigure {
  readonly kind: 'tops';
  /** In full-size frame pixels. */
  readonly planes: readonly PlaneTops[];
}

export const tops = figureKind<TopsSpec, TopsFigure>({
  kind: 'tops',
  called: 'the star tops of',
  version: 2,
  place: 'own',
  planes: 'together',
  standsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ images: [{ planes, rect }], on }) => ({
    kind: 'tops',
    planes: planes.map((plane, p) => {
      const field = fieldsOf(on[0])[p];
      const stars = field.stars.map((star) => ({ ...star, x: star.x - rect.x, y: star.y - rect.y }));
      const found = topsOf(plane, rect.width, rect.height, { ...field, stars });
      return { ...found, stars: found.stars.map((star) => ({ ...star, x: star.x + rect.x, y: star.y + rect.y })) };
    }),
  }),
  // Where the image is so many times as bright, so are its stars.
  carry: ({ planes }, { b }) =>
    b.some((by) => !(by > 0))
      ? undefined
      : {
          kind: 'tops',
          planes: planes.map(({ table, stars }, p) => {
            const by = b[p % b.length];
            return { table, stars: stars.map((star) => ({ ...star, height: by * star.height, cut: by * star.cut })) };
          }),
        },
  standIn: (_, planes) => ({
    kind: 'tops',
    planes: Array.from({ length: planes }, () => ({ table: [], stars: [] })),
  }),
});
