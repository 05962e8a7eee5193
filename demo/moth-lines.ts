// Pictures of the Lantern Moth that are made of its lines, each in a colour and at a place of its own.
import type { Step } from '@owl-loom/recipe/schema';
import { layered } from './layered';

/** Where hydrogen glows, softly. */
const GLOWING: readonly Step[] = [
  { do: 'stretch', target: 0.14 },
  { do: 'starless' },
  { do: 'levels', black: 0.15, mid: 0.42, white: 0.6 },
  { do: 'blur', radius: 6 },
];

/** Sulfur red and oxygen cyan, hydrogen as warm light by screen, daylight where the dust is, a floor under the blacks, stars last. */
export const EMBER_ON_ICE = layered(
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
export const GAS_BEHIND_STARS = layered(
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
export const THIRD_LINE = layered(
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
export const HYDROGEN_NIGHT = layered(
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

/** Sulfur, hydrogen and oxygen under red, green and blue; the green goes to gold in two passes, cyan deeper into blue, rims of stars are calmed. */
export const GOLD_FROM_GREEN = layered(
  'Gold from green',
  [
    {
      id: 'gas',
      of: { mix: { red: { SII: 1 }, green: { Ha: 0.75, OIII: 0.25 }, blue: { OIII: 1 } }, weights: 'share' },
      steps: [{ do: 'stretch', target: 0.13, colour: 'unlinked' }, { do: 'starless' }],
    },
  ],
  { black: 0.06, mid: 0.46 },
  {
    finish: [
      {
        do: 'hue-bands',
        bands: [
          { centre: 138, width: 60, soft: 35, turn: -42, chroma: 0.8 },
          { centre: 112, width: 24, soft: 20, turn: -16, chroma: 0.9 },
          { centre: 195, width: 60, soft: 35, turn: 22 },
          { centre: 325, width: 60, soft: 30, chroma: 0.25 },
        ],
      },
      { do: 'saturation', amount: 0.08, shadows: 0.2 },
      { do: 'sharpen', radius: 2.2, amount: 0.5, halo: 0.8 },
    ],
  },
);
