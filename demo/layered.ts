import type { Layer, Recipe, Step } from '../core/recipe/schema';
import { DAYLIGHT, LINES, MOTH_SKY as sky } from './moth-strands';

/** The stars of daylight, laid on last. */
const STARS: Layer = {
  id: 'stars',
  of: { strand: 'RGB' },
  steps: [
    { do: 'stretch', colour: 'hue', target: 0.1 },
    { do: 'stars-only', by: 'screen' },
  ],
  blend: 'screen',
  opacity: 0.85,
};

/** Where hydrogen glows, softly. */
const GLOWING: readonly Step[] = [
  { do: 'stretch', target: 0.14 },
  { do: 'starless' },
  { do: 'levels', black: 0.15, mid: 0.42, white: 0.6 },
  { do: 'blur', radius: 6 },
];

/** What all of them have: the strands, the stars of daylight on top, levels at the end. */
function layered(
  name: string,
  layers: readonly Layer[],
  levels: { black: number; mid: number },
  { strands = [], masks }: Pick<Partial<Recipe>, 'strands' | 'masks'> = {},
): Recipe {
  return {
    format: 'owl-loom-recipe',
    version: 1,
    name,
    sky,
    strands: [...LINES, ...DAYLIGHT, ...strands],
    ...(masks && { masks }),
    cloth: { layers: [...layers, STARS], steps: [{ do: 'levels', ...levels }], extent: 'common' },
  };
}

/** The gas under its own luminance, dodged with itself where it is bright and darkened where there is none. */
const LANTERN_LIGHT = layered(
  'Lantern light',
  [
    {
      id: 'gas',
      of: {
        mix: { red: { SII: 0.6, Ha: 0.4 }, green: { Ha: 0.45, OIII: 0.55 }, blue: { OIII: 1 } },
        weights: 'share',
      },
      steps: [{ do: 'stretch', target: 0.12 }, { do: 'starless' }],
    },
    {
      id: 'luminance',
      of: { strand: 'light' },
      steps: [{ do: 'stretch', target: 0.12 }, { do: 'starless' }],
      blend: 'luminosity',
      opacity: 0.7,
      mask: 'itself',
    },
    {
      id: 'glow',
      name: 'dodged with itself',
      of: { below: true },
      steps: [{ do: 'blur', radius: 10 }],
      blend: 'color-dodge',
      opacity: 0.32,
      mask: 'itself',
    },
    {
      id: 'night',
      name: 'darker where no gas is',
      of: { below: true },
      blend: 'multiply',
      opacity: 0.5,
      mask: {
        id: 'rest',
        of: { strand: 'light' },
        steps: [
          { do: 'stretch', target: 0.12 },
          { do: 'starless' },
          { do: 'levels', black: 0.15, mid: 0.4, white: 0.5 },
          { do: 'blur', radius: 12 },
        ],
        invert: true,
      },
    },
  ],
  { black: 0.03, mid: 0.45 },
  {
    strands: [{ id: 'light', from: { average: ['Ha', 'OIII', 'SII'], by: 'signal' }, steps: [] }],
    masks: [
      {
        id: 'itself',
        of: { strand: 'light' },
        steps: [
          { do: 'stretch', target: 0.12 },
          { do: 'starless' },
          { do: 'levels', black: 0.15, mid: 0.45, white: 0.62 },
          { do: 'blur', radius: 5 },
        ],
      },
    ],
  },
);

/** The fine half of hydrogen in its own warm colour, a small cloth laid on through a painted mask, and the depth of the large shapes. */
const THREADS_OF_FIRE = layered(
  'Threads of fire',
  [
    {
      id: 'gas',
      of: {
        mix: { red: { Ha: 0.8, SII: 0.2 }, green: { OIII: 0.75, Ha: 0.25 }, blue: { OIII: 1 } },
        weights: 'share',
      },
      steps: [{ do: 'stretch', target: 0.12 }, { do: 'starless' }],
    },
    {
      id: 'threads',
      name: 'threads',
      of: {
        layers: [
          {
            id: 'fine',
            name: 'fine half of hydrogen',
            of: { strand: 'Ha' },
            steps: [{ do: 'stretch', target: 0.12 }, { do: 'starless' }, { do: 'split', radius: 14, keep: 'fine' }],
          },
          { id: 'fire', name: 'its colour', of: { colour: '#ffb27a' }, blend: 'color', opacity: 0.3 },
        ],
      },
      blend: 'hard-light',
      opacity: 0.85,
      mask: {
        id: 'where',
        of: { strand: 'Ha' },
        steps: [
          { do: 'stretch', target: 0.12 },
          { do: 'starless' },
          { do: 'levels', black: 0.14, mid: 0.4, white: 0.57 },
          { do: 'blur', radius: 8 },
        ],
        paint: [
          { mode: 'hide', soft: 140, shape: 'ellipse', x: 330, y: 430, width: 900, height: 430, strength: 0.7 },
          {
            mode: 'hide',
            soft: 30,
            shape: 'stroke',
            radius: 40,
            points: [
              [1180, 905],
              [1320, 900],
            ],
          },
        ],
      },
    },
    {
      id: 'depth',
      name: 'depth',
      of: { below: true },
      steps: [{ do: 'structures', from: 8, to: 128, residual: true }],
      blend: 'soft-light',
      opacity: 0.35,
    },
  ],
  { black: 0.05, mid: 0.46 },
);

/** Sulfur red and oxygen cyan, hydrogen as warm light by screen, daylight where the dust is, a floor under the blacks, stars last. */
const EMBER_ON_ICE = layered(
  'Ember on ice',
  [
    {
      id: 'ice',
      of: { mix: { red: { SII: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } }, weights: 'share' },
      steps: [{ do: 'stretch', target: 0.12 }, { do: 'starless' }],
    },
    {
      id: 'ember',
      name: 'ember of hydrogen',
      of: { strand: 'Ha' },
      steps: [
        { do: 'stretch', target: 0.1 },
        { do: 'starless' },
        { do: 'levels', black: 0.12, mid: 0.47 },
        { do: 'tint', colour: '#ffa04f' },
      ],
      blend: 'screen',
      opacity: 0.8,
      mask: 'gas',
    },
    {
      id: 'dust',
      name: 'daylight in the dust',
      of: { strand: 'RGB' },
      steps: [{ do: 'stretch', colour: 'hue', target: 0.1 }, { do: 'starless' }, { do: 'levels', black: 0.04 }],
      blend: 'lighten',
      opacity: 0.55,
    },
    { id: 'floor', of: { colour: '#0c0d10' }, blend: 'lighten' },
  ],
  { black: 0.045, mid: 0.46 },
  {
    masks: [
      {
        id: 'gas',
        of: { strand: 'Ha' },
        steps: [
          { do: 'stretch', target: 0.1 },
          { do: 'starless' },
          { do: 'levels', black: 0.14, mid: 0.42, white: 0.6 },
          { do: 'blur', radius: 6 },
        ],
      },
    ],
  },
);

/** The gas of three lines without its stars, those of daylight over it. */
const GAS_BEHIND_STARS = layered(
  'Gas behind daylight stars',
  [
    {
      id: 'gas',
      of: {
        mix: { red: { SII: 0.55, Ha: 0.45 }, green: { Ha: 0.35, OIII: 0.65 }, blue: { OIII: 1 } },
        weights: 'share',
      },
      steps: [{ do: 'stretch', target: 0.15 }, { do: 'starless' }],
    },
  ],
  { black: 0.05, mid: 0.47 },
);

/** Hydrogen and oxygen as they are, the third line in its own colour and only where it is strong, then the picture laid on itself for depth. */
const THIRD_LINE = layered(
  'A third line in rose',
  [
    {
      id: 'two',
      name: 'two lines',
      of: { mix: { red: { Ha: 1 }, green: { Ha: 0.35, OIII: 0.65 }, blue: { OIII: 1 } }, weights: 'share' },
      steps: [{ do: 'stretch', target: 0.13 }, { do: 'starless' }],
    },
    {
      id: 'third',
      name: 'sulfur where it is strong',
      of: { strand: 'SII' },
      steps: [
        { do: 'stretch', target: 0.12 },
        { do: 'starless' },
        { do: 'levels', black: 0.16, mid: 0.46 },
        { do: 'tint', colour: '#ff7fb0' },
      ],
      blend: 'screen',
      opacity: 0.9,
      mask: {
        id: 'strong',
        of: { strand: 'SII' },
        steps: [
          { do: 'stretch', target: 0.12 },
          { do: 'starless' },
          { do: 'levels', black: 0.2, mid: 0.42, white: 0.55 },
          { do: 'blur', radius: 4 },
        ],
      },
    },
    {
      id: 'depth',
      name: 'laid on itself',
      of: { below: true },
      steps: [{ do: 'structures', from: 4, to: 256, residual: true }],
      blend: 'multiply',
      opacity: 0.35,
    },
  ],
  { black: 0.03, mid: 0.38 },
);

/** Hydrogen alone behind daylight's stars: reddened through a mask of itself, and darkened through the inverse of that mask. */
const HYDROGEN_NIGHT = layered(
  'Hydrogen night',
  [
    {
      id: 'hydrogen',
      of: { strand: 'Ha' },
      steps: [{ do: 'stretch', target: 0.09 }, { do: 'starless' }, { do: 'levels', black: 0.07, mid: 0.5 }],
    },
    {
      id: 'red',
      name: 'reddened where it glows',
      of: { colour: '#b03a24' },
      blend: 'color',
      opacity: 0.8,
      mask: 'glowing',
    },
    {
      id: 'dark',
      name: 'darkened where it does not',
      of: { colour: '#12161f' },
      blend: 'multiply',
      opacity: 0.7,
      mask: { id: 'night', of: { strand: 'Ha' }, steps: [...GLOWING], invert: true },
    },
    {
      id: 'teal',
      name: 'oxygen in the hollow',
      of: { strand: 'OIII' },
      steps: [
        { do: 'stretch', target: 0.1 },
        { do: 'starless' },
        { do: 'levels', black: 0.12, mid: 0.5 },
        { do: 'tint', colour: '#4f9fb8' },
      ],
      blend: 'screen',
      opacity: 0.5,
    },
  ],
  { black: 0.02, mid: 0.47 },
  { masks: [{ id: 'glowing', of: { strand: 'Ha' }, steps: [...GLOWING] }] },
);

/** Recipes of the Lantern Moth that are made of many layers, the one to look at first last. */
export const LAYERED: readonly Recipe[] = [
  GAS_BEHIND_STARS,
  HYDROGEN_NIGHT,
  THIRD_LINE,
  LANTERN_LIGHT,
  THREADS_OF_FIRE,
  EMBER_ON_ICE,
];
