import { measureContinuum } from '@owl-loom/algorithms/continuum/continuum';
import type { ContinuumFit, ContinuumMethod } from '@owl-loom/algorithms/continuum/result';
import { defineMeasurement } from './kind';
import { unpackFields } from './stars';
import type { Background } from './background';

/** How much of the second, broadband image the first, a line image, holds. */
export interface ContinuumSpec {
  readonly kind: 'continuum';
  readonly nodes: readonly [number, number];
  readonly method: ContinuumMethod;
}

export type ContinuumFigure = { readonly kind: 'continuum' } & ContinuumFit;

export const continuum = defineMeasurement<ContinuumSpec, ContinuumFigure>({
  kind: 'continuum',
  called: 'the starlight in',
  version: 7,
  grid: 'frame',
  planes: 'together',
  dependsOn: ({ nodes }) => [
    ...nodes.map((node) => ({ kind: 'stars' as const, nodes: [node] as const })),
    ...nodes.map((node) => ({ kind: 'tone' as const, nodes: [node] as const })),
  ],
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
    const [lineStars, broadStars] = on.slice(0, 2).map((figure) => unpackFields(figure)[0]);
    const [lineTone, broadTone] = on.slice(2).map((figure) => (figure as Background).planes[0]);
    const input = {
      line,
      broad,
      lineStars,
      broadStars,
      lineSky: lineTone.sky,
      broadSky: broadTone.sky,
      lineNoise: lineTone.noise,
      broadNoise: broadTone.noise,
      width: rect.width,
      height: rect.height,
    };
    return { kind: 'continuum', ...measureContinuum(input, spec.method) };
  },
  placeholder: ({ method }) => ({
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
