import type { RemovedStars } from '@owl-loom/algorithms/star-removal/packed';
import type { StarRemovalParams } from '@owl-loom/recipe/steps/star-removal';

/** Radius of a circle newly taken by hand, in full-size pixels. */
const CIRCLE = 8;

/**
 * What a touch of the picture changes: a circle or a spared star that is there already goes, a star is spared, elsewhere a circle is taken.
 * @param near how far from it a thing may be touched, in full-size pixels
 */
export function toggleManualStar(
  { also = [], spare = [] }: Partial<StarRemovalParams>,
  stars: RemovedStars | undefined,
  at: { readonly x: number; readonly y: number },
  near: number,
): Pick<Partial<StarRemovalParams>, 'also' | 'spare'> {
  const place = { x: Math.round(at.x), y: Math.round(at.y) };
  const away = (other: { readonly x: number; readonly y: number }) => Math.hypot(other.x - at.x, other.y - at.y);
  const circle = also.findIndex((one) => away(one) <= Math.max(one.radius, near));
  if (circle >= 0) return { also: also.toSpliced(circle, 1) };
  const spared = spare.findIndex((one) => away(one) <= Math.max(4, near));
  if (spared >= 0) return { spare: spare.toSpliced(spared, 1) };
  const star = stars?.beams
    .flat()
    .filter((beam) => away(beam) <= Math.max(4, near))
    .sort((a, b) => away(a) - away(b))[0];
  if (star) return { spare: [...spare, { x: Math.round(star.x), y: Math.round(star.y) }] };
  return { also: [...also, { ...place, radius: also.at(-1)?.radius ?? CIRCLE }] };
}
