import { type LinearFit, linearFit } from '../fit/linear';
import { alignStars, starsToMatch } from '../align/align';
import { measureContinuum } from '../continuum/continuum';
import { seeingOf } from '../continuum/seeing';
import { type Gradient, type GradientParams, measureGradient } from '../gradient/gradient';
import { mapPoint } from '../align/affine';
import type { Wcs } from '../align/wcs';
import { whiteByCatalogue, whiteByStars } from '../stars/white';
import { levelRect, toFull, toLevel } from '../raster/levels';
import type { Raster } from '../raster/raster';
import { largestCovered } from '../raster/coverage';
import { type Rect, intersect } from '../raster/rect';
import { median } from '../stats/quantile';
import { countsOf, meanOf } from '../stats/summary';
import { toneOf } from '../stats/tone';
import { findStars } from '../stars/detect';
import type { Figure, FigureSpec, ScatterSample, StarList } from './figures';

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

function measureFit(spec: Extract<FigureSpec, { kind: 'fit' }>, images: readonly Raster[], level: number): Figure {
  const [target, reference] = images;
  const { width, height } = target.rect;
  const placed = (rect: Rect | undefined) =>
    rect ? shifted(intersect(levelRect(rect, level), target.rect), target.rect) : undefined;
  const region = placed(spec.region);
  const sky = placed(spec.sky);
  let sample: ScatterSample = [];
  const planes = target.planes.map((plane, p) => {
    const input = {
      reference: reference.planes[reference.planes.length === 3 ? p : 0],
      target: plane,
      width,
      height,
      region,
      sky,
      low: spec.low,
      high: spec.high,
    };
    const fit = linearFit(input, spec.method);
    const within = (v: number) =>
      v >= (spec.low ?? Number.NEGATIVE_INFINITY) && v <= (spec.high ?? Number.POSITIVE_INFINITY);
    if (p === 0) sample = scatterSample(plane, input.reference, (x, y) => within(x) && within(y), fit);
    return fit;
  });
  return { kind: 'fit', planes, sample };
}

/** A place on the sky for a level's pixels. */
function scaledWcs(wcs: Wcs, level: number): Wcs {
  const n = 2 ** level;
  const { xx, xy, yx, yy } = wcs.plane;
  const [tx, ty] = mapPoint(wcs.plane, toFull(0, level), toFull(0, level));
  return { ...wcs, plane: { xx: xx * n, xy: xy * n, tx, yx: yx * n, yy: yy * n, ty } };
}

/** Boxes in a level's pixels. */
function atLevel(params: GradientParams, level: number): GradientParams {
  if (params.samples === 'auto' || level === 0) return params;
  return {
    ...params,
    samples: params.samples.map((box) => ({
      x: toLevel(box.x, level),
      y: toLevel(box.y, level),
      size: Math.max(2, box.size / 2 ** level),
    })),
  };
}

/** A gradient measured on a level, in full-size pixels. */
function atFullSize({ boxes, planes }: Gradient, level: number): Gradient {
  const n = 2 ** level;
  return {
    boxes: boxes.map((box) => ({ x: toFull(box.x, level), y: toFull(box.y, level), size: box.size * n })),
    planes: planes.map((plane) => ({
      ...plane,
      model: {
        ...plane.model,
        cx: toFull(plane.model.cx, level),
        cy: toFull(plane.model.cy, level),
        unit: plane.model.unit * n,
      },
    })),
  };
}

/** The plane that tells where an image's stars are: of a colour image green, which lies between the others. */
const starPlane = ({ planes }: Raster): Float32Array => planes[planes.length === 3 ? 1 : 0];

function measureAlign(spec: Extract<FigureSpec, { kind: 'align' }>, images: readonly Raster[], level: number): Figure {
  const [target, reference] = images.map((image) => starsToMatch({ plane: starPlane(image), ...image.rect }));
  const full = (stars: typeof target) =>
    stars.map((star) => ({ ...star, x: toFull(star.x, level), y: toFull(star.y, level) }));
  return { kind: 'align', ...alignStars(full(target), full(reference), spec.model) };
}

/** Stars that are marked at most: more would hide the picture. */
const MARKED = 4000;

/** The stars of an image as marks on it. */
function listStars(image: Raster, level: number): StarList {
  const { rect } = image;
  const found = findStars(starPlane(image), rect.width, rect.height).sort((a, b) => b.flux - a.flux);
  const n = 2 ** level;
  const tenth = (v: number) => Math.round(10 * v) / 10;
  return {
    count: found.length,
    stars: found
      .slice(0, MARKED)
      .map((s) => [
        tenth(toFull(s.x + rect.x, level)),
        tenth(toFull(s.y + rect.y, level)),
        tenth(s.fwhm * n),
        s.saturated ? 1 : 0,
      ]),
  };
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
      return {
        kind: 'middle',
        planes: images[0].planes.map((plane) => ({ median: median(plane), mean: meanOf(plane) })),
      };
    case 'seeing': {
      const { width, height } = images[0].rect;
      const planes = images[0].planes.map((plane) => seeingOf(plane, width, height));
      return { kind: 'seeing', planes: planes.map((seeing) => ({ ...seeing, fwhm: seeing.fwhm * 2 ** level })) };
    }
    case 'continuum': {
      const [
        {
          planes: [line],
          rect,
        },
        {
          planes: [broad],
        },
      ] = images;
      return {
        kind: 'continuum',
        ...measureContinuum({ line, broad, width: rect.width, height: rect.height }, spec.method),
      };
    }
    case 'gradient':
      return { kind: 'gradient', ...atFullSize(measureGradient(images[0], atLevel(spec.params, level)), level) };
    case 'white':
      return {
        kind: 'white',
        ...(spec.wcs ? whiteByCatalogue(images[0], scaledWcs(spec.wcs, level)) : whiteByStars(images[0])),
      };
    case 'stars':
      return { kind: 'stars', ...listStars(images[0], level) };
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
