import { planeOf } from '@owl-loom/image/raster/raster';
import { type FitMethod, type LinearFit, linearFit } from '@owl-loom/algorithms/linear-fit/linear';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { defineMeasurement } from './kind';

/** The line that brings the first image to the brightness of the second. */
export interface FitSpec {
  readonly kind: 'fit';
  /** Target, then reference. */
  readonly nodes: readonly [number, number];
  readonly method: FitMethod;
  readonly region?: Rect;
  /** The recipe's sky region. */
  readonly sky?: Rect;
  readonly low?: number;
  readonly high?: number;
}

/** Pairs of pixels for a scatter plot: target, reference, and whether the fit kept the pixel. */
export type ScatterSample = readonly (readonly [number, number, 0 | 1])[];

export interface FitFigure {
  readonly kind: 'fit';
  readonly planes: readonly LinearFit[];
  readonly sample: ScatterSample;
}

const SAMPLE = 600;

/** A few hundred pairs for a scatter plot, half of them from the brighter pixels, which are few and which people look for. */
function scatterSample(
  target: Float32Array,
  reference: Float32Array,
  counts: (x: number, y: number) => boolean,
  fit: LinearFit,
): ScatterSample {
  let seed = 12345;
  const random = () => {
    seed = (1103515245 * seed + 12345) % 2147483648;
    return seed / 2147483648;
  };
  const drawn: [number, number, 0 | 1][] = [];
  for (let i = 0; i < 12_000; i++) {
    const at = Math.floor(random() * target.length);
    if (!counts(target[at], reference[at])) continue;
    const residual = Math.abs(reference[at] - fit.a - fit.b * target[at]);
    drawn.push([target[at], reference[at], residual <= 3 * fit.scatter ? 1 : 0]);
  }
  const bright = [...drawn].sort((a, b) => b[0] - a[0]).slice(0, SAMPLE / 2);
  return [...drawn.slice(0, SAMPLE / 2), ...bright];
}

export const linearFitKind = defineMeasurement<FitSpec, FitFigure>({
  kind: 'fit',
  called: 'the fit of',
  version: 3,
  grid: 'frame',
  planes: 'apart',
  // It goes over its pixels many times, and a line is told by few.
  estimatePixels: 9000,
  measure: ({ spec, images: [target, reference], level }) => {
    const { width, height, x, y } = target.rect;
    const placed = (rect: Rect | undefined) => {
      const part = rect && intersect(rectAtLevel(rect, level), target.rect);
      return part && { ...part, x: part.x - x, y: part.y - y };
    };
    const region = placed(spec.region);
    const sky = placed(spec.sky);
    const within = (v: number) =>
      v >= (spec.low ?? Number.NEGATIVE_INFINITY) && v <= (spec.high ?? Number.POSITIVE_INFINITY);
    let sample: ScatterSample = [];
    const planes = target.planes.map((plane, p) => {
      const other = planeOf(reference, p);
      const { low, high } = spec;
      const found = linearFit({ reference: other, target: plane, width, height, region, sky, low, high }, spec.method);
      if (p === 0) sample = scatterSample(plane, other, (u, v) => within(u) && within(v), found);
      return found;
    });
    return { kind: 'fit', planes, sample };
  },
});
