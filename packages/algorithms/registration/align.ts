import { UserError } from '@owl-loom/base/errors';
import type { Star } from '../stars/detect';
import { type Affine, determinant, invertAffine, mapPoint } from '@owl-loom/image/geometry/affine';
import { type MatchStar, matchFields, pairStars, StarTree } from './match';
import { type AlignModel, FEWEST_PAIRS, pairResidual, type Pair, fitTransform } from './solve';
import { pixelToSky, skyToPixel, type Wcs } from '@owl-loom/image/fits/wcs';

/** How one image lies on another: target pixel (0-based, x right, y from the foot) to reference pixel. */
export interface Alignment {
  readonly map: Affine;
  /** Root mean square of the stars' distance after the map, in reference pixels; 0 where files' own WCS were used. */
  readonly rms: number;
  /** Stars matched; 0 where files' own WCS were used. */
  readonly matched: number;
  readonly mirrored: boolean;
}

/** Fewest stars of an image with which a match can be told from chance. */
const FEWEST_STARS = 5;
/** Stars that take part in the last fit. */
const MOST = 1500;

/** The stars of an image that take part, brightest first; saturated ones only where there are hardly others. */
export function selectMatchStars(found: readonly Star[]): MatchStar[] {
  const clean = found.filter((star) => !star.saturated);
  const used = clean.length >= 12 ? clean : found;
  return used
    .map(({ x, y, flux }) => ({ x, y, flux }))
    .sort((a, b) => b.flux - a.flux)
    .slice(0, MOST);
}

function enough(stars: readonly MatchStar[], which: string): void {
  if (stars.length >= FEWEST_STARS) return;
  const found = stars.length === 0 ? 'No stars' : stars.length === 1 ? 'Only one star' : `Only ${stars.length} stars`;
  throw new UserError(
    'align-few-stars',
    `${found} found in ${which}; alignment by stars needs ${FEWEST_STARS}. Align by structures or by WCS, or leave it in place.`,
  );
}

/**
 * Aligns by stars: asterisms give a first map, then all pairs near it give the last one, those off by more than 3 σ left out.
 * @throws UserError where there are too few stars, the fields have nothing in common, or the model cannot hold what was found
 */
export function alignStars(
  target: readonly MatchStar[],
  reference: readonly MatchStar[],
  model: AlignModel,
): Alignment {
  enough(target, 'the image to be aligned');
  enough(reference, 'the reference');
  const start = matchFields(target, reference);
  if (!start)
    throw new UserError(
      'align-no-match',
      `The stars do not match (${target.length} and ${reference.length} found): do both images show the same field? Check the reference, or align by structures or by WCS, or leave it in place.`,
    );
  if (model === 'shift') {
    const { xx, xy, yx, yy } = start.map;
    if (Math.hypot(xx - 1, xy, yx, yy - 1) > 0.02)
      throw new UserError(
        'align-not-shift',
        'The image is rotated, scaled or mirrored relative to the reference. Use the model “similarity”.',
      );
  }
  // Pairs are sought as wide as the first map may be off, then ever closer.
  const scale = Math.sqrt(Math.abs(determinant(start.map)));
  let map = start.map;
  let pairs: Pair[] = [];
  let radius = Math.max(3, 3 * scale);
  for (let round = 0; round < 12; round++) {
    const grid = new StarTree(reference);
    const near = pairStars(map, target, reference, grid, radius);
    const misses = near.map((p) => pairResidual(map, p)).sort((a, b) => a - b);
    // Half of a two-dimensional Gaussian lies within 1.1774 σ.
    const sigma = misses.length ? misses[misses.length >> 1] / 1.1774 : 0;
    const kept = near.filter((p) => pairResidual(map, p) <= Math.max(3 * sigma, 1e-6));
    const next = fitTransform(kept, round < 2 && model === 'affine' ? 'similarity' : model, start.mirrored);
    if (!next || kept.length < FEWEST_PAIRS[model]) break;
    const moved = Math.abs(next.tx - map.tx) + Math.abs(next.ty - map.ty);
    map = next;
    pairs = kept;
    radius = Math.min(radius, Math.max(0.7, 5 * sigma));
    if (moved < 1e-7 && round > 4) break;
  }
  if (pairs.length < FEWEST_STARS)
    throw new UserError(
      'align-no-match',
      `Only ${pairs.length} ${pairs.length === 1 ? 'star' : 'stars'} matched; alignment by stars needs ${FEWEST_STARS}. Align by structures or by WCS, or leave it in place.`,
    );
  const rms = Math.sqrt(pairs.reduce((sum, p) => sum + pairResidual(map, p) ** 2, 0) / pairs.length);
  return { map, rms, matched: pairs.length, mirrored: determinant(map) < 0 };
}

/**
 * Aligns by the two files' own places on the sky: the affine map that fits the target's pixels best over its whole area.
 * @throws UserError where the two do not overlap
 */
export function alignWcs(
  target: Wcs,
  reference: Wcs,
  size: { width: number; height: number },
  model: AlignModel,
): Alignment {
  const pairs: Pair[] = [];
  for (let j = 0; j <= 6; j++) {
    for (let i = 0; i <= 6; i++) {
      const [x, y] = [(i / 6) * (size.width - 1), (j / 6) * (size.height - 1)];
      const at = skyToPixel(reference, ...pixelToSky(target, x, y));
      if (at) pairs.push({ x, y, u: at[0], v: at[1], weight: 1 });
    }
  }
  const first = fitTransform(pairs, 'affine', false);
  const map = first && fitTransform(pairs, model, determinant(first) < 0);
  if (!map)
    throw new UserError(
      'align-no-overlap',
      'The two WCS do not overlap on the sky. Check the files, or align by stars.',
    );
  const back = invertAffine(map);
  if (![back.tx, back.ty, ...mapPoint(map, 0, 0)].every(Number.isFinite))
    throw new UserError(
      'align-no-overlap',
      'The two WCS do not overlap on the sky. Check the files, or align by stars.',
    );
  return {
    map,
    rms: Math.sqrt(pairs.reduce((sum, p) => sum + pairResidual(map, p) ** 2, 0) / pairs.length),
    matched: 0,
    mirrored: determinant(map) < 0,
  };
}
