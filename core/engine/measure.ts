import { type LinearFit, linearFit } from '../fit/linear';
import { alignStars, starsToMatch } from '../align/align';
import { measureContinuum } from '../continuum/continuum';
import { seeingOf } from '../continuum/seeing';
import { levelRect, toFull } from '../raster/levels';
import type { Raster } from '../raster/raster';
import { largestCovered } from '../raster/coverage';
import { type Rect, intersect } from '../raster/rect';
import { median } from '../stats/quantile';
import { countsOf, meanOf } from '../stats/summary';
import { toneOf } from '../stats/tone';
import type { Figure, FigureSpec, ScatterSample } from './figures';

const SAMPLE = 600;

/** A few hundred pairs for a scatter plot, half of them from the brighter pixels, which are few and which people look for. */
function scatterSample(target: Float32Array, reference: Float32Array, counts: (x: number, y: number) => boolean, fit: LinearFit): ScatterSample {
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

function measureFit(spec: Extract<FigureSpec, { kind: 'fit' }>, images: readonly Raster[], level: number): Figure {
  const [target, reference] = images;
  const { width, height } = target.rect;
  const placed = (rect: Rect | undefined) => (rect ? shifted(intersect(levelRect(rect, level), target.rect), target.rect) : undefined);
  const region = placed(spec.region);
  const sky = placed(spec.sky);
  let sample: ScatterSample = [];
  const planes = target.planes.map((plane, p) => {
    const input = { reference: reference.planes[reference.planes.length === 3 ? p : 0], target: plane, width, height, region, sky, low: spec.low, high: spec.high };
    const fit = linearFit(input, spec.method);
    const within = (v: number) => v >= (spec.low ?? Number.NEGATIVE_INFINITY) && v <= (spec.high ?? Number.POSITIVE_INFINITY);
    if (p === 0) sample = scatterSample(plane, input.reference, (x, y) => within(x) && within(y), fit);
    return fit;
  });
  return { kind: 'fit', planes, sample };
}

/** The first plane of each image tells where its stars are; of a colour image, green, which lies between the others. */
function measureAlign(spec: Extract<FigureSpec, { kind: 'align' }>, images: readonly Raster[], level: number): Figure {
  const [target, reference] = images.map(({ rect, planes }) => starsToMatch({ plane: planes[planes.length === 3 ? 1 : 0], ...rect }));
  const full = (stars: typeof target) => stars.map((star) => ({ ...star, x: toFull(star.x, level), y: toFull(star.y, level) }));
  return { kind: 'align', ...alignStars(full(target), full(reference), spec.model) };
}

const shifted = (rect: Rect, origin: Rect): Rect => ({ ...rect, x: rect.x - origin.x, y: rect.y - origin.y });

/**
 * Measures a figure from whole images.
 * @param images one for each of the figure's nodes, all on the frame
 * @param level 0 gives the figure; a higher level gives a guess at it, the noise taken as white
 * @throws UserError where the images do not allow it
 */
export function measureFigure(spec: FigureSpec, images: readonly Raster[], level = 0): Figure {
  switch (spec.kind) {
    case 'tone': {
      const region = spec.region ? levelRect(spec.region, level) : undefined;
      const planes = images[0].planes.map((plane) => {
        const tone = toneOf(plane, images[0].rect, region);
        if (level === 0) return tone;
        const noise = tone.noise * 2 ** level;
        // 3.09 σ is where 0.1 % of white noise lies below; averaging has drawn it in.
        return { ...tone, noise, low: Math.min(tone.low, tone.sky - 3.09 * noise) };
      });
      return { kind: 'tone', planes };
    }
    case 'fit':
      return measureFit(spec, images, level);
    case 'middle':
      return { kind: 'middle', planes: images[0].planes.map((plane) => ({ median: median(plane), mean: meanOf(plane) })) };
    case 'seeing': {
      const { width, height } = images[0].rect;
      const planes = images[0].planes.map((plane) => seeingOf(plane, width, height));
      return { kind: 'seeing', planes: planes.map((seeing) => ({ ...seeing, fwhm: seeing.fwhm * 2 ** level })) };
    }
    case 'continuum': {
      const [{ planes: [line], rect }, { planes: [broad] }] = images;
      return { kind: 'continuum', ...measureContinuum({ line, broad, width: rect.width, height: rect.height }, spec.method) };
    }
    case 'align':
      return measureAlign(spec, images, level);
    case 'counts':
      return { kind: 'counts', planes: images[0].planes.map((plane) => countsOf(plane, spec.stretched)) };
    case 'common': {
      const { x, y, width, height } = largestCovered(images);
      const n = 2 ** level;
      return { kind: 'common', rect: { x: x * n, y: y * n, width: width * n, height: height * n } };
    }
  }
}
