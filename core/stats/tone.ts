import { type Rect, intersect, isEmpty } from '../raster/rect';
import { windowOf } from '../raster/raster';
import { noiseOf } from './noise';
import { quantiles } from './quantile';
import { skyOf } from './sky';

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

/**
 * Root mean square about the sky of the pixels up to the 99.8 % quantile, less the noise.
 * Moves with the image: of `a + b·x` it is |b| times that of `x`.
 */
export function signalSpread(values: Float32Array, sky: number, noise: number, top: number): number {
  let sum = 0;
  let n = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (v <= top) {
      sum += (v - sky) ** 2;
      n++;
    }
  }
  if (n === 0) return Number.NaN;
  const raw = sum / n;
  const signal = raw - noise ** 2;
  // Where the signal drowns in the noise, a thousandth of the noise keeps weights and ratios finite.
  return Math.sqrt(Math.max(signal, raw * 1e-6));
}

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
  const { sky } = skyOf(skyPlane);
  const noise = noiseOf(skyPlane, skyShape.width, skyShape.height);
  const [low, high, top] = quantiles(values, [0.001, 0.999, SPREAD_TOP]);
  let there = 0;
  for (let i = 0; i < values.length; i++) if (values[i] === values[i]) there++;
  const quiet = Number.isNaN(noise) ? 0 : noise;
  return {
    sky,
    noise: quiet,
    low,
    high,
    spread: signalSpread(values, sky, quiet, top),
    covered: there / Math.max(1, values.length),
  };
}
