import { type Rect, intersect, isEmpty } from '../raster/rect';
import { windowOf } from '../raster/raster';
import { censusOf, squareAbout } from './census';
import { noiseOf } from './noise';

/** What the automatic steps need to know of one plane, all in the image's own units. */
export interface PlaneTone {
  readonly sky: number;
  readonly noise: number;
  /** The 0.1 % quantile. */
  readonly low: number;
  /** The 99.9 % quantile. */
  readonly high: number;
  /** Root mean square of the signal about the sky, noise taken off; stars' brightest 0.2 % left out. */
  readonly spread: number;
  /** 1 where the plane has data, as a share of its pixels. */
  readonly covered: number;
}

/** The quantile above which pixels do not count for the spread: cores of stars are not the subject. */
const SPREAD_TOP = 0.998;
const LOW = 0.001;
const HIGH = 0.999;

/**
 * The signal's spread from the mean square about the sky: less the noise. Where the signal drowns in it, a thousandth of the noise keeps
 * weights and ratios finite. Moves with the image: of `a + b·x` it is |b| times that of `x`.
 */
export const spreadFrom = (square: number, noise: number): number =>
  Math.sqrt(Math.max(square - noise ** 2, square * 1e-6));

/**
 * Measures one whole plane at full size.
 * @param rect where the plane lies
 * @param skyRegion the place from which sky and noise are taken; the whole plane where none is given or it has too few pixels
 */
export function toneOf(values: Float32Array, rect: Rect, skyRegion?: Rect): PlaneTone {
  const region = skyRegion ? intersect(skyRegion, rect) : rect;
  const useRegion = skyRegion !== undefined && !isEmpty(region) && region.width >= 5 && region.height >= 5;
  const skyPlane = useRegion ? windowOf(values, rect, region) : values;
  const skyShape = useRegion ? region : rect;
  const whole = censusOf(values, [LOW, HIGH], SPREAD_TOP);
  const sky = useRegion ? censusOf(skyPlane).sky.sky : whole.sky.sky;
  const noise = noiseOf(skyPlane, skyShape.width, skyShape.height);
  const quiet = Number.isNaN(noise) ? 0 : noise;
  const [low, high] = whole.quantiles;
  const { count } = whole;
  return {
    sky,
    noise: quiet,
    low,
    high,
    spread: spreadFrom(squareAbout(whole.lower, sky), quiet),
    covered: count / Math.max(1, values.length),
  };
}
