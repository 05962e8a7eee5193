import { StarTree } from '@owl-loom/algorithms/registration/match';
import { detectStarField } from '@owl-loom/algorithms/stars/field';
import { makeSky, SKIES } from '@owl-loom/testing/skies';

/** How a field unlike the demo is read, against its truth. */
export interface FieldScore {
  readonly field: string;
  readonly fwhm: number;
  /** Found width over the true one, less 1. */
  readonly widthOff: number;
  readonly stars: number;
  readonly found: number;
  /** Found where there is none. */
  readonly false: number;
}

/** A find this near to a star of the truth is that star, in pixels. */
const NEAR = 3;

/** Star finding on made skies of every kind. */
export const fieldScores = (): FieldScore[] =>
  Object.entries(SKIES).map(([field, spec]) => {
    const { plane, width, height, truth } = makeSky(spec);
    const { stars, fwhm } = detectStarField(plane, width, height);
    const known = new StarTree(truth);
    const wrong = stars.filter((star) => known.nearest(star.x, star.y, NEAR) === undefined).length;
    return {
      field,
      fwhm: spec.fwhm,
      widthOff: fwhm / spec.fwhm - 1,
      stars: truth.length,
      found: stars.length,
      false: wrong,
    };
  });
