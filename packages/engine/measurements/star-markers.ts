import { defineMeasurement } from './kind';
import { unpackFields, referencePlane } from './stars';

/** The stars of an image, to be looked at. */
export interface MarksSpec {
  readonly kind: 'marks';
  readonly nodes: readonly [number];
}

/** The stars of an image as marks on it: the brightest of them, and how many there are in all. */
export interface StarMarkers {
  /** x and y in full-size pixels, full width at half maximum, 1 where saturated. */
  readonly stars: readonly (readonly [number, number, number, 0 | 1])[];
  readonly count: number;
}

export type MarksFigure = { readonly kind: 'marks' } & StarMarkers;

/** Stars that are marked at most: more would hide the picture. */
const MARKED = 4000;

const tenth = (v: number) => Math.round(10 * v) / 10;

export const starMarkersKind = defineMeasurement<MarksSpec, MarksFigure>({
  kind: 'marks',
  called: 'the stars of',
  version: 2,
  grid: 'own',
  planes: 'together',
  pixelInputs: () => [],
  dependsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ on }) => {
    const { stars } = referencePlane(unpackFields(on[0]));
    const brightest = [...stars].sort((a, b) => b.flux - a.flux).slice(0, MARKED);
    return {
      kind: 'marks',
      count: stars.length,
      stars: brightest.map((s) => [tenth(s.x), tenth(s.y), tenth(s.fwhm), s.saturated ? 1 : 0]),
    };
  },
  placeholder: () => ({ kind: 'marks', stars: [], count: 0 }),
});
