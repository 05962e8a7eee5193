// Pictures that are finished by hand: the cloth laid on itself, stars calmed, luminance on daylight, turned and cut to be shown.
import type { Recipe } from '@owl-loom/recipe/schema';
import { LINES, MOTH_SKY } from './moth-strands';

/** Three lines; the gas lit by the cloth laid on itself, twice, more gently the second time; purple rims of stars calmed and stars drawn in. */
export const OWN_LIGHT: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'By its own light',
  sky: MOTH_SKY,
  strands: [...LINES],
  masks: [
    {
      id: 'gas',
      of: { strand: 'Ha' },
      steps: [
        { do: 'stretch', target: 0.1 },
        { do: 'starless' },
        { do: 'levels', black: 0.13, mid: 0.42, white: 0.62 },
        { do: 'blur', radius: 8 },
      ],
    },
  ],
  cloth: {
    layers: [
      {
        id: 'lines',
        of: {
          mix: { red: { SII: 0.7, Ha: 0.3 }, green: { Ha: 0.45, OIII: 0.55 }, blue: { OIII: 1 } },
          weights: 'share',
        },
        steps: [{ do: 'stretch', target: 0.12 }],
      },
      { id: 'lit', name: 'lit by itself', of: { below: true }, blend: 'color-dodge', opacity: 0.3, mask: 'gas' },
      { id: 'softer', name: 'and once more', of: { below: true }, blend: 'soft-light', opacity: 0.45, mask: 'gas' },
    ],
    steps: [
      { do: 'levels', black: 0.06, mid: 0.47 },
      {
        do: 'hue-bands',
        bands: [
          { centre: 135, width: 60, soft: 35, turn: -34, chroma: 0.9 },
          { centre: 325, width: 70, soft: 30, chroma: 0.15 },
        ],
      },
      { do: 'star-shrink', amount: 0.35 },
      { do: 'saturation', amount: 0.25, shadows: 0.1, mask: 'gas' },
    ],
    extent: 'common',
  },
};

/** Luminance on daylight, more colourful, the Teasel laid level and cut to a wide picture. */
export const LIFTED: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'The Teasel laid level',
  sky: { x: 100, y: 680, width: 180, height: 70 },
  strands: [
    ...['L', 'R', 'G', 'B'].map((id) => ({
      id,
      from: { stack: id },
      steps: [
        { do: 'gradient', smoothing: 10 },
        { do: 'place', degrees: -21 },
      ],
    })),
    {
      id: 'RGB',
      from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } }, weights: 'as-is' },
      steps: [{ do: 'calibrate' }, { do: 'level-sky' }, { do: 'denoise', strength: 0.5, chroma: 1.6 }],
    },
  ],
  cloth: {
    layers: [
      { id: 'daylight', of: { strand: 'RGB' }, steps: [{ do: 'stretch', colour: 'hue', target: 0.07 }] },
      {
        id: 'luminance',
        of: { strand: 'L' },
        steps: [
          { do: 'stretch', target: 0.07 },
          { do: 'sharpen', radius: 1.6, amount: 0.5, halo: 0.9 },
        ],
        blend: 'luminosity',
      },
    ],
    steps: [
      { do: 'levels', black: 0.03, mid: 0.58 },
      { do: 'saturation', amount: 0.3, shadows: 0 },
    ],
    extent: 'common',
  },
};
