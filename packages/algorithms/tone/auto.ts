import type { PlaneBackground } from '@owl-loom/image/stats/background';
import { bisect } from '../linear-fit/bisect';
import { curveOf, type StretchCurve, strengthFor } from './curves';

/** Black, white and strength of a stretch, one a plane. */
export interface StretchParams {
  readonly black: number[];
  readonly white: number[];
  readonly strength: number[];
}

export type StretchColour = 'linked' | 'unlinked' | 'hue';

/** What a person has given; anything left out is measured. */
export interface StretchOptions {
  readonly curve: StretchCurve;
  readonly target: number;
  readonly colour: StretchColour;
  readonly black?: number[];
  readonly white: number[];
  readonly strength?: number[];
}

const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;

type Background = Pick<PlaneBackground, 'sky' | 'noise' | 'low'>;

/** The mean of the planes' measurements, as linked stretches use it. */
function meanTone(tones: readonly PlaneBackground[]): Background {
  return {
    sky: mean(tones.map((t) => t.sky)),
    noise: mean(tones.map((t) => t.noise)),
    low: mean(tones.map((t) => t.low)),
  };
}

/** How far each plane's sky lies from the mean of all; nothing where they differ by no more than the noise. */
function skyOffsets(tones: readonly PlaneBackground[], linked: Background): number[] {
  const skies = tones.map(({ sky }) => sky);
  const differ = Math.max(...skies) - Math.min(...skies) > linked.noise;
  return skies.map((sky) => (differ ? sky - linked.sky : 0));
}

/** Where the sky comes out in pictures that are brightened to look at, and stay linear. */
const BRIGHT = 0.17;

/** Brightening for the eye: one asinh and one black for all planes, so that a cast shows, white at 1. */
export function previewStretch(tones: readonly PlaneBackground[]): { black: number; strength: number } {
  const { black, strength } = autoOf('asinh', BRIGHT, meanTone(tones), { white: 1 });
  return { black, strength };
}

/** Where the sky lies in most pictures. */
const USUAL = 0.16;
/** A sky darker than this is told by its black, not by the curve. */
const DARKEST = 0.02;
/** A curve that brightens little, for images whose sky is bright as it is. */
const GENTLE: Record<StretchCurve, number> = { asinh: 1, log: 1, power: 1, midtone: 0.5 };

/** What is between black and white where a curve reaches a value. */
function inverseOf(curve: StretchCurve, strength: number, value: number): number {
  const f = curveOf(curve, strength);
  return value > 0 ? bisect(0, 1, (t) => f(t) >= value) : 0;
}

/** Black and strength of one plane, each measured unless it is given. */
function autoOf(
  curve: StretchCurve,
  target: number,
  { sky, noise, low }: Background,
  given: { readonly black?: number; readonly white: number; readonly strength?: number },
): { black: number; strength: number } {
  const { white } = given;
  const black = given.black ?? Math.min(sky - 2.5 * noise, low);
  if (given.strength !== undefined) return { black, strength: given.strength };
  const t = (sky - black) / (white - black);
  const brightens = curve === 'asinh' || curve === 'log';
  if (target >= DARKEST && (t < target || !brightens)) return { black, strength: strengthFor(curve, t, target) };
  const strength = t < USUAL ? strengthFor(curve, t, USUAL) : GENTLE[curve];
  if (given.black !== undefined) return { black, strength };
  // From that black on the curve cannot make the sky so dark: black comes nearer to it.
  const at = inverseOf(curve, strength, target);
  return { black: (sky - at * white) / (1 - at), strength };
}

/**
 * The automatic stretch: black at the smaller of sky − 2.5 noise and the 0.1 % quantile, strength such that the sky comes out at `target`.
 * Linked and hue take the mean of the planes' measurements and one strength; where skies differ by more than the noise, black lies as far below each
 * plane's own sky, so that the sky takes no tint. Unlinked takes each plane by itself.
 */
export function autoStretch(given: StretchOptions, tones: readonly PlaneBackground[]): StretchParams {
  const { curve, target, white } = given;
  const one = (tone: Background, i: number) =>
    autoOf(curve, target, tone, { black: given.black?.[i], white: white[i], strength: given.strength?.[i] });
  if (given.colour === 'unlinked') {
    const found = tones.map(one);
    return { black: found.map((f) => f.black), white, strength: found.map((f) => f.strength) };
  }
  const linked = meanTone(tones);
  const found = tones.map((_, i) => one(linked, i));
  const offsets = given.black ? tones.map(() => 0) : skyOffsets(tones, linked);
  return { black: found.map((f, i) => f.black + offsets[i]), white, strength: found.map((f) => f.strength) };
}

/**
 * The stretch of stars alone, which have their sky at 0: it stays there, and stars look as in the picture that they were taken from, of which
 * the strength is and the distance from black to white.
 * @param tones of that picture
 */
export function starsStretch(given: StretchOptions, tones: readonly PlaneBackground[]): StretchParams {
  const whole = autoStretch({ ...given, black: undefined }, tones);
  return {
    black: given.black ?? whole.black.map(() => 0),
    white: whole.white.map((w, i) => (given.black ? w : w - whole.black[i])),
    strength: whole.strength,
  };
}
