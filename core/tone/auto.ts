import type { PlaneTone } from '../stats/tone';
import { type StretchCurve, strengthFor } from './curves';

/** Black, white and strength of a stretch, one a plane. */
export interface StretchFigures {
  readonly black: number[];
  readonly white: number[];
  readonly strength: number[];
}

export type StretchColour = 'linked' | 'unlinked' | 'hue';

/** What a person has given; anything left out is measured. */
export interface StretchGiven {
  readonly curve: StretchCurve;
  readonly target: number;
  readonly colour: StretchColour;
  readonly black?: number[];
  readonly white: number[];
  readonly strength?: number[];
}

const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

/** The mean of the planes' figures, as linked stretches use it. */
function meanTone(tones: readonly PlaneTone[]): Pick<PlaneTone, 'sky' | 'noise' | 'low'> {
  return {
    sky: mean(tones.map((t) => t.sky)),
    noise: mean(tones.map((t) => t.noise)),
    low: mean(tones.map((t) => t.low)),
  };
}

/** Where the sky comes out in pictures that are brightened to look at, and stay linear. */
const BRIGHT = 0.17;

/** Brightening for the eye: one asinh for all planes, white at 1. */
export function brightStretch(tones: readonly PlaneTone[]): { black: number; strength: number } {
  const white = tones.map(() => 1);
  const { black, strength } = autoStretch({ curve: 'asinh', target: BRIGHT, colour: 'linked', white }, tones);
  return { black: black[0], strength: strength[0] };
}

/**
 * The automatic stretch: black at the smaller of sky − 2.5 noise and the 0.1 % quantile, strength such that the sky comes out at `target`.
 * Linked and hue take the mean of the planes' figures, unlinked each plane its own.
 */
export function autoStretch(given: StretchGiven, tones: readonly PlaneTone[]): StretchFigures {
  const linked = meanTone(tones);
  const used = tones.map((tone) => (given.colour === 'unlinked' ? tone : linked));
  const black = given.black ?? used.map((t) => Math.min(t.sky - 2.5 * t.noise, t.low));
  const white = given.white;
  const strength =
    given.strength ??
    used.map((t, i) => strengthFor(given.curve, (t.sky - black[i]) / (white[i] - black[i]), given.target));
  return { black, white, strength };
}
