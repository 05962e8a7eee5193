import { linearToLab, lightnessOf, labToLinear } from '../colour/lab';
import { LUMINANCE } from '../colour/luminance';
import { linearToSrgbFast, srgbToLinearFast } from '../colour/tables';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { smoothstep } from '@owl-loom/image/math/smoothstep';

/** Halvings by which chroma is drawn in until a colour can be shown: to a ten-thousandth of itself. */
const HALVINGS = 14;
/** How far beyond 0 and 1 a light may lie by rounding alone. */
const HAIR = 1e-7;

const shown = (light: readonly number[]): boolean => light.every((v) => v >= -HAIR && v <= 1 + HAIR);

/** Light of a lightness with so much of a colour's chroma as can be shown. */
function withChroma(l: number, a: number, b: number): [number, number, number] {
  const whole = labToLinear([l, a, b]);
  if (shown(whole)) return whole;
  let [low, high] = [0, 1];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (shown(labToLinear([l, middle * a, middle * b]))) low = middle;
    else high = middle;
  }
  return labToLinear([l, low * a, low * b]);
}

/**
 * Stretched colours with another luminance, in CIE L*a*b*: hue and chroma stay, chroma drawn in where it leaves what can be shown.
 * Inputs: the colour, then the luminance.
 */
export const replaceLuminanceLab: PixelFunction = ([{ planes }, luminance], out) => {
  const [r, g, b] = planes;
  const [y] = luminance.planes;
  const [toR, toG, toB] = out.planes;
  for (let i = 0; i < y.length; i++) {
    const light = srgbToLinearFast(y[i]);
    const [, chromaA, chromaB] = linearToLab([srgbToLinearFast(r[i]), srgbToLinearFast(g[i]), srgbToLinearFast(b[i])]);
    const made = withChroma(lightnessOf(light), chromaA, chromaB);
    toR[i] = linearToSrgbFast(made[0]);
    toG[i] = linearToSrgbFast(made[1]);
    toB[i] = linearToSrgbFast(made[2]);
  }
};

/** What was measured of a linear colour and a luminance. */
export interface RatioPlan {
  /** Sky of each plane of the colour. */
  readonly skies: readonly number[];
  /** Sky of the luminance, and the factor that brings it to the colour's own. */
  readonly sky: number;
  readonly factor: number;
  /** Noise of the colour's own luminance. */
  readonly noise: number;
}

/** Above so many times its noise a colour is scaled. */
const CLEAR = 5;
/** Below so many it is shifted alone: a share of what is noise would move the sky of each plane by another amount. */
const FAINT = 2;

/**
 * Linear colours with another luminance, by ratio about the sky: what stands above the sky is scaled, what is lost in noise is shifted, so
 * that the sky stays quiet. Inputs: the colour, then the luminance.
 */
export const replaceLuminanceRatio =
  ({ skies, sky, factor, noise }: RatioPlan): PixelFunction =>
  ([{ planes }, luminance], out) => {
    const [y] = luminance.planes;
    for (let i = 0; i < y.length; i++) {
      const own = planes.reduce((sum, plane, p) => sum + LUMINANCE[p] * (plane[i] - skies[p]), 0);
      const wanted = factor * (y[i] - sky);
      const share = smoothstep((own / noise - FAINT) / (CLEAR - FAINT));
      const by = share > 0 ? share * (wanted / own) + 1 - share : 1;
      const shift = (1 - share) * (wanted - own);
      for (let p = 0; p < planes.length; p++) out.planes[p][i] = skies[p] + by * (planes[p][i] - skies[p]) + shift;
    }
  };
