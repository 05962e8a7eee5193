import type { Triple } from '@owl-loom/base/triple';
import { UserError } from '@owl-loom/base/errors';
import { expectBackground } from '../measurements/index';
import { perPlaneValues } from '@owl-loom/recipe/schema-primitives';
import { type StretchParams, autoStretch, starsStretch } from '@owl-loom/algorithms/tone/auto';
import { DEFAULT_STRENGTH, type StretchCurve, stretchHue, stretchPlane } from '@owl-loom/algorithms/tone/curves';
import type { PixelFunction } from '@owl-loom/image/pixel-function';
import { implementStep } from './step-implementation';
import { stretch as spec } from '@owl-loom/recipe/steps/stretch';

function planes(curve: StretchCurve, { black, white, strength }: StretchParams): PixelFunction {
  return ([input], out) =>
    out.planes.forEach((to, p) => stretchPlane(curve, strength[p], black[p], white[p], input.planes[p], to));
}

const hueKept =
  (curve: StretchCurve, { black, white, strength }: StretchParams): PixelFunction =>
  ([input], out) =>
    stretchHue(curve, strength[0], black, white, input.planes, out.planes);

/**
 * Linear to stretched, by one of four curves (packages/algorithms/tone/curves). Measured unless black, white or strength is given;
 * with `auto: true` beside given numbers, only what is not given is measured.
 * Stars alone are stretched as the picture that they were taken from, their sky at 0.
 * `hold: { black, white, strength }` pins all three.
 */
export const stretchStep = implementStep(spec, {
  version: 2,
  build: (p, { input, sky, hold, path, pictureOfStars }) => {
    const n = input.planes;
    const pick = (name: 'black' | 'white' | 'strength') => {
      const held = hold?.[name];
      const value = typeof held === 'number' || Array.isArray(held) ? held : p[name];
      if (Array.isArray(value) && n === 1) {
        throw new UserError('one-number', `A mono image takes one value for ${name}, not three.`, `${path}.${name}`);
      }
      return value === undefined ? undefined : perPlaneValues(value, n);
    };
    const black = pick('black');
    const white = pick('white') ?? perPlaneValues(1, n);
    const strength = pick('strength');
    const auto =
      (p.auto ?? !(p.black !== undefined || p.white !== undefined || p.strength !== undefined)) && !(black && strength);
    for (let i = 0; i < n; i++) {
      if (black && white[i] <= black[i])
        throw new UserError('white-below-black', 'White must be above black.', `${path}.white`);
      if (strength && p.curve === 'midtone' && !(strength[i] > 0 && strength[i] < 1)) {
        throw new UserError(
          'strength-range',
          'The midtone curve needs a strength between 0 and 1.',
          `${path}.strength`,
        );
      }
      if (strength && !(strength[i] > 0))
        throw new UserError('strength-range', 'Strength must be above 0.', `${path}.strength`);
    }
    const fixed: StretchParams = {
      black: black ?? perPlaneValues(0, n),
      white,
      strength: strength ?? perPlaneValues(DEFAULT_STRENGTH[p.curve], n),
    };
    const picture = auto ? pictureOfStars(input) : undefined;
    const stretchFrom = picture ? starsStretch : autoStretch;
    const figuresFrom = (figures: Parameters<typeof expectBackground>[0][]): StretchParams =>
      auto
        ? stretchFrom(
            { curve: p.curve, target: p.target, colour: p.colour, black, white, strength },
            expectBackground(figures[0]),
          )
        : fixed;
    return {
      kernel: {
        prepare: (figures) => (p.colour === 'hue' && n === 3 ? hueKept : planes)(p.curve, figuresFrom([...figures])),
        report: (figures) => {
          const f = figuresFrom([...figures]);
          const one = ([a, b = a, c = a]: number[]): number | Triple => (new Set([a, b, c]).size === 1 ? a : [a, b, c]);
          return { curve: p.curve, auto, black: one(f.black), white: one(f.white), strength: one(f.strength) };
        },
      },
      figures: auto ? [{ kind: 'tone', nodes: [(picture ?? input).node], region: sky }] : [],
      planes: n,
      extent: input.extent,
    };
  },
});
