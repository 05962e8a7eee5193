import { type Rect, intersect, isEmpty } from '../geometry/rect';
import { cropPlane } from '../raster/raster';
import { type PlaneStatistics, planeStatistics, meanSquareAbout } from './plane-statistics';
import { planeNoise } from './noise';

/** What the automatic steps need to know of one plane, all in the image's own units. */
export interface PlaneBackground {
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
const spreadFrom = (square: number, noise: number): number => Math.sqrt(Math.max(square - noise ** 2, square * 1e-6));

/** What a census must hold for a tone. */
export const BACKGROUND_SPEC = { quantiles: [LOW, HIGH], top: SPREAD_TOP } as const;

/**
 * A tone from a census of its plane.
 * @param pixels how many the plane has
 */
export function backgroundFrom(census: PlaneStatistics, sky: number, noise: number, pixels: number): PlaneBackground {
  const quiet = Number.isNaN(noise) ? 0 : noise;
  const [low, high] = census.quantiles;
  const spread = spreadFrom(meanSquareAbout(census.lowerMoments, sky), quiet);
  return { sky, noise: quiet, low, high, spread, covered: census.count / Math.max(1, pixels) };
}

/**
 * Measures one whole plane at full size.
 * @param rect where the plane lies
 * @param skyRegion the place from which sky and noise are taken; the whole plane where none is given or it has too few pixels
 */
export function measureBackground(values: Float32Array, rect: Rect, skyRegion?: Rect): PlaneBackground {
  const region = skyRegion ? intersect(skyRegion, rect) : rect;
  const useRegion = skyRegion !== undefined && !isEmpty(region) && region.width >= 5 && region.height >= 5;
  const census = planeStatistics(values, BACKGROUND_SPEC.quantiles, BACKGROUND_SPEC.top);
  if (!useRegion)
    return backgroundFrom(census, census.sky.sky, planeNoise(values, rect.width, rect.height), values.length);
  const part = cropPlane(values, rect, region);
  return backgroundFrom(
    census,
    planeStatistics(part).sky.sky,
    planeNoise(part, region.width, region.height),
    values.length,
  );
}
