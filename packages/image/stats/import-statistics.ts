import { planeStatistics } from './plane-statistics';
import { planeNoise } from './noise';
import { type HistogramBins, histogramBetween, type PlaneSummary, QUANTILES as ENDS } from './summary';
import { type PlaneBackground, backgroundFrom, BACKGROUND_SPEC } from './background';

/** What is wanted of a plane as soon as it comes in, from one census. */
export interface ImportStatistics {
  readonly summary: PlaneSummary;
  readonly tone: PlaneBackground;
  readonly counts: HistogramBins;
}

/** Everything that is told of a new plane at once: its summary, its tone and its histogram. */
export function importStatistics(
  values: Float32Array,
  width: number,
  height: number,
  stretched: boolean,
): ImportStatistics {
  const at = [...ENDS, ...BACKGROUND_SPEC.quantiles, 0.5];
  const census = planeStatistics(values, at, BACKGROUND_SPEC.top);
  const noise = planeNoise(values, width, height);
  const { count, min, max, mean, sky, quantiles } = census;
  const [low, high, toneLow, toneHigh, median] = quantiles;
  const noData = (values.length - count) / Math.max(1, values.length);
  return {
    summary: { sky: sky.sky, noise, median, mean, min, max, noData },
    tone: backgroundFrom({ ...census, quantiles: [toneLow, toneHigh] }, sky.sky, noise, values.length),
    counts: histogramBetween(values, stretched ? [0, 1] : [low, high], stretched),
  };
}
