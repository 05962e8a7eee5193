import { inpaintCircles } from '@owl-loom/algorithms/inpaint/harmonic-fill';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect } from '@owl-loom/image/geometry/rect';
import { apertureFor, circleSum } from '@owl-loom/algorithms/stars/photometry';
import type { StarField } from '@owl-loom/algorithms/stars/field';
import { type PackedStars, packStars } from '@owl-loom/algorithms/star-removal/packed';
import { holeCircles, type RemovedStar, removeStars } from '@owl-loom/algorithms/star-removal/remove-stars';
import { defineMeasurement } from './kind';
import { unpackFields } from './stars';

/** The stars of an image with their light, to be taken out of it. */
export interface StarlessSpec {
  readonly kind: 'starless';
  readonly nodes: readonly [number];
  /** 1; less takes only what is surely a star, more takes what might be one. */
  readonly sensitivity: number;
  /** Places in full-size frame pixels at which stars stay. */
  readonly spare: readonly { readonly x: number; readonly y: number }[];
  /** Whether no gap's filling may be brighter than the image was, once both are stretched. */
  readonly held: boolean;
}

export type StarlessFigure = {
  readonly kind: 'starless';
  /** The share of their light that is left when the brighter of them have been taken out; null where none is bright enough to tell. */
  readonly left: number | null;
} & PackedStars;

/** Below this of the sure sensitivity a star's top must stand higher. */
const TOP = 5;
/** From so many noises on a star's light can be told before and after. */
const TELLS = 40;
/** Stars that tell, at most. */
const MAX_STARS_FOR_RESIDUAL = 300;
/** A star is meant by a place not further from it than so many pixels, or than its width. */
const MEANT = 4;

/** The stars of all planes, each once. */
function mergePlaneLists(fields: readonly StarField[], sensitivity: number) {
  const near = 0.7 * Math.max(...fields.map(({ fwhm }) => fwhm));
  const cells = new Map<string, { x: number; y: number }[]>();
  const cellOf = (v: number) => Math.floor(v / Math.max(1, near));
  return fields.flatMap(({ stars, noise }) =>
    stars.filter((star) => {
      if (star.peak < (TOP * noise) / Math.min(1, sensitivity)) return false;
      const [cx, cy] = [cellOf(star.x), cellOf(star.y)];
      for (let j = -1; j <= 1; j++) {
        for (let i = -1; i <= 1; i++) {
          for (const other of cells.get(`${cx + i} ${cy + j}`) ?? [])
            if (Math.hypot(other.x - star.x, other.y - star.y) < near) return false;
        }
      }
      const key = `${cx} ${cy}`;
      const own = cells.get(key);
      if (own) own.push(star);
      else cells.set(key, [star]);
      return true;
    }),
  );
}

/** How much of the brighter stars' light is left after their gaps have been filled. */
function residualLightShare(
  planes: readonly Float32Array[],
  left: readonly Float32Array[],
  width: number,
  height: number,
  taken: readonly RemovedStar[],
  fields: readonly StarField[],
): number | null {
  const rect = { x: 0, y: 0, width, height };
  const circles = holeCircles(taken);
  let [before, after] = [0, 0];
  planes.forEach((plane, p) => {
    const { radius } = apertureFor(fields[p].fwhm);
    const telling = taken
      .flatMap(({ lights }) => lights[p] ?? [])
      .filter(({ table, scatter }) => table[0] > TELLS * scatter)
      .sort((a, b) => b.table[0] - a.table[0])
      .slice(0, MAX_STARS_FOR_RESIDUAL);
    for (const { x, y } of telling) {
      const side = Math.ceil(2 * radius) + 2;
      const place = { x: Math.round(x) - side, y: Math.round(y) - side, width: 2 * side + 1, height: 2 * side + 1 };
      const window = intersect(place, rect);
      const filled = cropPlane(left[p], rect, window).slice();
      inpaintCircles(left[p], rect, filled, window, circles, 0);
      const was = circleSum(plane, width, height, x, y, radius);
      const within = (r: number) => circleSum(filled, window.width, window.height, x - window.x, y - window.y, r);
      const [is, around] = [within(radius), within(2 * radius)];
      if (!was || !is || !around) continue;
      const level = (around.sum - is.sum) / (around.area - is.area);
      before += was.sum - level * was.area;
      after += Math.abs(is.sum - level * is.area);
    }
  });
  return before > 0 ? after / before : null;
}

export const starRemovalKind = defineMeasurement<StarlessSpec, StarlessFigure>({
  kind: 'starless',
  called: 'the light of each star in',
  version: 5,
  grid: 'own',
  planes: 'together',
  dependsOn: ({ nodes }) => [{ kind: 'stars', nodes }],
  measure: ({ spec, images: [{ planes, rect }], on }) => {
    const { width, height, x, y } = rect;
    const fields = unpackFields(on[0]).map((field) => ({
      ...field,
      stars: field.stars.map((star) => ({ ...star, x: star.x - x, y: star.y - y })),
    }));
    const { sensitivity, spare, held } = spec;
    const none = { kind: 'starless', left: null, ...packStars([], planes.length, x, y) } as const;
    if (fields.every(({ fwhm }) => !(fwhm > 0))) return none;
    // A plane that shows no stars of its own takes the look of one that does.
    const known = fields.find(({ fwhm }) => fwhm > 0) ?? fields[0];
    const looks = fields.map((field) => (field.fwhm > 0 ? field : { ...known, noise: field.noise || known.noise }));
    const width0 = Math.max(MEANT, known.fwhm);
    const isSpared = (star: { x: number; y: number }) =>
      spare.some((place) => Math.hypot(place.x - x - star.x, place.y - y - star.y) <= width0);
    const { taken, left } = removeStars(
      { planes, width, height, fields: looks, stars: mergePlaneLists(fields, sensitivity), held, isSpared },
      sensitivity,
    );
    return {
      kind: 'starless',
      left: residualLightShare(planes, left, width, height, taken, looks),
      ...packStars(taken, planes.length, x, y),
    };
  },
  placeholder: (_, planes) => ({ kind: 'starless', left: null, ...packStars([], planes, 0, 0) }),
});
