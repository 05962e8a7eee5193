import { measureContinuum } from '../continuum/continuum';
import type { Continuum, ContinuumMethod } from '../continuum/found';
import { figureKind } from './kind';
import { fieldsOf } from './stars';

/** How much of the second, broadband image the first, a line image, holds. */
export interface ContinuumSpec {
  readonly kind: 'continuum';
  readonly nodes: readonly [number, number];
  readonly method: ContinuumMethod;
}

export type ContinuumFigure = { readonly kind: 'continuum' } & Continuum;

export const continuum = figureKind<ContinuumSpec, ContinuumFigure>({
  kind: 'continuum',
  version: 5,
  place: 'frame',
  planes: 'together',
  standsOn: ({ nodes }) => nodes.map((node) => ({ kind: 'stars', nodes: [node] })),
  measure: ({ spec, images, on }) => {
    const [
      {
        planes: [line],
        rect,
      },
      {
        planes: [broad],
      },
    ] = images;
    const [lineStars, broadStars] = on.map((figure) => fieldsOf(figure)[0]);
    const input = { line, broad, lineStars, broadStars, width: rect.width, height: rect.height };
    return { kind: 'continuum', ...measureContinuum(input, spec.method) };
  },
  standIn: ({ method }) => ({
    kind: 'continuum',
    method,
    k: 0,
    kError: Number.NaN,
    stars: 0,
    belowSky: 0,
    starlit: true,
    pairs: [],
    curve: [],
    shares: [],
    spots: [],
  }),
});
