import { censusOf } from './census';
import { noiseOf } from './noise';
import { type Counts, countsFrom, type PlaneSummary, QUANTILES as ENDS } from './summary';
import { type PlaneTone, toneFrom, TONE } from './tone';

/** What is wanted of a plane as soon as it comes in, from one census. */
export interface Survey {
  readonly summary: PlaneSummary;
  readonly tone: PlaneTone;
  readonly counts: Counts;
}

/** Everything that is told of a new plane at once: its summary, its tone and its histogram. */
export function surveyOf(values: Float32Array, width: number, height: number, stretched: boolean): Survey {
  const at = [...ENDS, ...TONE.quantiles, 0.5];
  const census = censusOf(values, at, TONE.top);
  const noise = noiseOf(values, width, height);
  const { count, min, max, mean, sky, quantiles } = census;
  const [low, high, toneLow, toneHigh, median] = quantiles;
  const noData = (values.length - count) / Math.max(1, values.length);
  return {
    summary: { sky: sky.sky, noise, median, mean, min, max, noData },
    tone: toneFrom({ ...census, quantiles: [toneLow, toneHigh] }, sky.sky, noise, values.length),
    counts: countsFrom(values, stretched ? [0, 1] : [low, high], stretched),
  };
}
