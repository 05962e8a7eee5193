import type { StarRemovalParams } from '@owl-loom/recipe/steps/star-removal';
import { type Measurement, type MeasurementSpec, expectKind } from '../measurements/index';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import type { ImageInfo, NodeKernel } from '../node-kernel';
import type { StepContext } from './step-implementation';
import { type Circle, inpaintCircles, inpaintSourceRect } from '@owl-loom/algorithms/inpaint/harmonic-fill';
import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { toFullSize } from '@owl-loom/image/geometry/level-position';
import { cropPlane } from '@owl-loom/image/raster/raster';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { pseudoLinearKernels } from './pseudo-linear';
import { subtractStars, indexStars, type StarIndex } from '@owl-loom/algorithms/star-removal/subtract-stars';
import { type RemovedStars, unpackStars } from '@owl-loom/algorithms/star-removal/packed';

const BOLDEST = 4;

/**
 * The measurement that tells an image's stars with their light.
 * @param held whether nothing may become brighter than it was, so that what was taken can be screened onto the rest
 */
const figureOfStars = (
  input: ImageInfo,
  { sensitivity, spare }: StarRemovalParams,
  held: boolean,
): MeasurementSpec => ({
  kind: 'starless',
  nodes: [input.node],
  // Bolder than this it would take noise for stars.
  sensitivity: Math.min(BOLDEST, sensitivity),
  spare,
  held,
});

const sorted = new WeakMap<RemovedStars, StarIndex[]>();

/** The stars of a measurement, ready to be taken off. */
export function removedStarsOf(figure: Measurement | undefined): { stars: RemovedStars; sorted: readonly StarIndex[] } {
  const stars = unpackStars(expectKind('starless', figure));
  const before = sorted.get(stars);
  if (before) return { stars, sorted: before };
  const made = stars.beams.map(indexStars);
  sorted.set(stars, made);
  return { stars, sorted: made };
}

/** What the report says of the stars that are taken; nothing of those that a partner lacks. */
export function starRemovalReport([figure]: readonly Measurement[]):
  | { stars: number; left: number | null }
  | undefined {
  if (!figure) return undefined;
  const { count, left } = expectKind('starless', figure);
  return { stars: count, left };
}

/** What is filled: the stars' gaps as far as they are asked to grow, and circles by hand. */
const circlesOf = (figure: Measurement | undefined, { grow, also }: StarRemovalParams): Circle[] => [
  ...removedStarsOf(figure).stars.gaps.map(([x, y, r]): Circle => [x, y, r * grow]),
  ...also.map(({ x, y, radius }): Circle => [x, y, radius]),
];

/** An image without the light of its stars; their gaps are still to be filled. */
function lessOf(input: ImageInfo, place: Pick<StepContext, 'addIntermediate'>, figure: MeasurementSpec): ImageInfo {
  const kernel: NodeKernel = {
    prepare: ([figure], level) => {
      const { sorted: stars } = removedStarsOf(figure);
      return ([pixels], out) => subtractStars(pixels, out, stars, level);
    },
  };
  return place.addIntermediate({
    kind: 'less-stars',
    inputs: [input.node],
    planes: input.planes,
    domain: input.domain,
    extent: input.extent,
    kernel,
    figures: [figure],
    version: 1,
  });
}

/** Fills the gaps of an image from which the light of stars has been taken. */
function fillKernel(extent: ImageInfo['extent'], taking: StarRemovalParams): NodeKernel {
  return {
    inputRoi: (rect, level, _, [figure]) =>
      intersect(inpaintSourceRect(rect, circlesOf(figure, taking), level), rectAtLevel(extent, level)),
    prepare: ([figure], level) => {
      const circles = circlesOf(figure, taking);
      return ([left], out) =>
        out.planes.forEach((to, p) => {
          to.set(cropPlane(left.planes[p], left.rect, out.rect));
          inpaintCircles(left.planes[p], left.rect, to, out.rect, circles, level);
        });
    },
  };
}

/** Keeps each pixel no brighter than another image's, outside of some circles: screening onto it cannot darken. */
function clampToOriginal(
  to: Float32Array,
  image: Float32Array,
  rect: Rect,
  except: StarRemovalParams['also'],
  level: number,
): void {
  for (let y = 0, i = 0; y < rect.height; y++) {
    for (let x = 0; x < rect.width; x++, i++) {
      if (!(to[i] > image[i])) continue;
      const [u, v] = [toFullSize(rect.x + x, level), toFullSize(rect.y + y, level)];
      if (!except.some((circle) => Math.hypot(u - circle.x, v - circle.y) <= circle.radius)) to[i] = image[i];
    }
  }
}

/** An image without its stars by its own look. */
function removeStarsFrom(place: StarsPlace, taking: StarRemovalParams): ImageInfo {
  const input = detectionImage(place);
  const figure = starlessFigure(place, taking);
  const less = lessOf(input, place, figure);
  const { planes, domain, extent } = input;
  return place.addIntermediate({
    kind: 'starless',
    inputs: [less.node],
    planes,
    domain,
    extent,
    kernel: fillKernel(extent, taking),
    figures: [figure],
    params: taking,
    version: 1,
  });
}

/** For a step whose result was made on the way to it. */
export const copyPixels: PixelFunction = ([image], out) => out.planes.forEach((to, p) => to.set(image.planes[p]));

/** What stars are taken from: of a stretched image the linear one before, in which all stars look alike. */
export type StarsPlace = Pick<StepContext, 'input' | 'addIntermediate' | 'partnerImage' | 'linearAncestor'>;

/** A step's place with the linear image before a stretched one; where that came stretched from its file, with something like it. */
export function withLinearAncestor(place: StepContext): StepContext {
  const { input, linearAncestor: unbent, addIntermediate: derive, sky } = place;
  if (input.domain !== 'stretched' || unbent) return place;
  const { back, forth } = pseudoLinearKernels();
  const { planes, extent } = input;
  const figures = [{ kind: 'tone' as const, nodes: [input.node] as const, region: sky }];
  const made = { planes, extent, figures, version: 1 };
  const linear = derive({ ...made, kind: 'unbent', inputs: [input.node], kernel: back, domain: 'linear' });
  return {
    ...place,
    linearAncestor: {
      linear,
      reapplyStretch: ({ node }) =>
        derive({ ...made, kind: 'bent', inputs: [node], kernel: forth, domain: 'stretched' }),
    },
  };
}

/** The image whose stars are told. */
export const detectionImage = ({ input, linearAncestor: unbent }: StarsPlace): ImageInfo => unbent?.linear ?? input;

/** The measurement that tells the stars of a step's input with their light. */
export const starlessFigure = (place: StarsPlace, taking: StarRemovalParams): MeasurementSpec =>
  figureOfStars(detectionImage(place), taking, place.linearAncestor !== undefined);

/** A step's input without its stars, on the way to another image. */
export function starlessImage(place: StarsPlace, taking: StarRemovalParams): ImageInfo {
  const { input, linearAncestor: unbent } = place;
  if (taking.partner !== undefined) return place.partnerImage(taking.partner);
  const bare = removeStarsFrom(place, taking);
  if (!unbent) return bare;
  const bent = unbent.reapplyStretch(bare);
  const { planes, domain, extent } = input;
  const kernel: NodeKernel = {
    prepare:
      (_, level) =>
      ([without, image], out) =>
        out.planes.forEach((to, p) => {
          to.set(without.planes[p]);
          clampToOriginal(to, image.planes[p], out.rect, taking.also, level);
        }),
  };
  return place.addIntermediate({
    kind: 'held-down',
    inputs: [bent.node, input.node],
    planes,
    domain,
    extent,
    kernel,
    params: taking.also,
    version: 1,
  });
}
