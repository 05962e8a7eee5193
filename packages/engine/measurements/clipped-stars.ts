import { type ClippedStars, reconstructClippedStars } from '@owl-loom/algorithms/star-removal/clipped-stars';
import { defineMeasurement } from './kind';
import { unpackFields } from './stars';

/** The stars of an image that were cut off, and how high they stood, by their wings. */
export interface TopsSpec {
  readonly kind: 'tops';
  readonly nodes: readonly [number];
}

export interface TopsFigure {
  readonly kind: 'tops';
  /** In full-size frame pixels. */
  readonly planes: readonly ClippedStars[];
}

export const clippedStarsKind = defineMeasurement<TopsSpec, TopsFigure>({
  kind: 'tops',
  called: 'the star tops of',
  version: 2,
  grid: 'own',
  planes: 'together',
  dependsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ images: [{ planes, rect }], on }) => ({
    kind: 'tops',
    planes: planes.map((plane, p) => {
      const field = unpackFields(on[0])[p];
      const stars = field.stars.map((star) => ({ ...star, x: star.x - rect.x, y: star.y - rect.y }));
      const found = reconstructClippedStars(plane, rect.width, rect.height, { ...field, stars });
      return { ...found, stars: found.stars.map((star) => ({ ...star, x: star.x + rect.x, y: star.y + rect.y })) };
    }),
  }),
  // Where the image is so many times as bright, so are its stars.
  propagateLinear: ({ planes }, { b }) =>
    b.some((by) => !(by > 0))
      ? undefined
      : {
          kind: 'tops',
          planes: planes.map(({ table, stars }, p) => {
            const by = b[p % b.length];
            return { table, stars: stars.map((star) => ({ ...star, height: by * star.height, cut: by * star.cut })) };
          }),
        },
  placeholder: (_, planes) => ({
    kind: 'tops',
    planes: Array.from({ length: planes }, () => ({ table: [], stars: [] })),
  }),
});
