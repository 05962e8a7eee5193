import type { Recipe } from '@owl-loom/recipe/schema';
import { LIFTED, OWN_LIGHT } from './finished';
import { LANTERN_LIGHT, THREADS_OF_FIRE } from './moth-light';
import { EMBER_ON_ICE, GAS_BEHIND_STARS, GOLD_FROM_GREEN, HYDROGEN_NIGHT, THIRD_LINE } from './moth-lines';
import { DAYLIGHT, LINES, MOTH_SKY as SKY } from './moth-strands';

/** Recipes that come with the Lantern Moth, the one to open first last: the newest stands on top. */
const MOTH_RECIPES: readonly Recipe[] = [
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Daylight with hydrogen',
    sky: SKY,
    strands: [
      { id: 'R', from: { stack: 'R' }, steps: [{ do: 'gradient' }] },
      { id: 'G', from: { stack: 'G' }, steps: [{ do: 'gradient' }] },
      { id: 'B', from: { stack: 'B' }, steps: [{ do: 'gradient' }] },
      {
        id: 'Ha',
        from: { stack: 'Ha' },
        steps: [
          { do: 'gradient' },
          { do: 'continuum', broad: 'R', matchSeeing: true, mend: true },
          { do: 'denoise', strength: 0.7 },
        ],
      },
      {
        id: 'OIII',
        from: { stack: 'OIII' },
        steps: [
          { do: 'gradient' },
          { do: 'continuum', broad: 'G', matchSeeing: true, mend: true },
          { do: 'denoise', strength: 0.7 },
        ],
      },
      {
        id: 'RGB',
        from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } }, weights: 'as-is' },
        steps: [{ do: 'calibrate' }, { do: 'level-sky' }],
      },
      {
        id: 'lit',
        from: {
          formula:
            '# line light, free of stars, laid onto the daylight\nh = max(0, Ha - sky(Ha) - 0.03 * (R - sky(R)))\no = max(0, OIII - sky(OIII) - 0.03 * (G - sky(G)))\nred = RGB.red + 1.7 * h\ngreen = RGB.green + 0.24 * h + 1.1 * o\nblue = RGB.blue + 0.26 * h + 1.2 * o',
        },
        steps: [],
      },
    ],
    cloth: {
      layers: [{ id: 'daylight', of: { strand: 'lit' }, steps: [{ do: 'stretch', target: 0.16 }] }],
      steps: [{ do: 'levels', black: 0.05, mid: 0.48, white: 0.98 }],
      extent: 'common',
    },
  },
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Plain daylight',
    sky: SKY,
    strands: [...DAYLIGHT],
    cloth: {
      layers: [{ id: 'daylight', of: { strand: 'RGB' }, steps: [{ do: 'stretch', colour: 'hue', target: 0.13 }] }],
      steps: [{ do: 'levels', black: 0.03, mid: 0.47, white: 0.98 }],
    },
  },
  GAS_BEHIND_STARS,
  HYDROGEN_NIGHT,
  GOLD_FROM_GREEN,
  THIRD_LINE,
  LANTERN_LIGHT,
  THREADS_OF_FIRE,
  EMBER_ON_ICE,
  OWN_LIGHT,
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Copper and teal',
    sky: SKY,
    strands: [...LINES],
    cloth: {
      layers: [
        {
          id: 'base',
          of: {
            mix: { red: { Ha: 0.75, SII: 0.25 }, green: { OIII: 0.8, Ha: 0.2 }, blue: { OIII: 1 } },
            weights: 'share',
          },
          steps: [{ do: 'stretch', curve: 'asinh', target: 0.12 }],
        },
        {
          id: 'glow',
          name: 'glow of sulfur',
          of: { strand: 'SII' },
          steps: [
            { do: 'stretch', target: 0.06 },
            { do: 'levels', black: 0.12 },
            { do: 'tint', colour: '#ffb14a' },
          ],
          blend: 'screen',
          opacity: 0.45,
        },
      ],
      steps: [{ do: 'levels', black: 0.04, mid: 0.48 }],
      extent: 'common',
    },
  },
];

/** Sky to the upper left of the Teasel, off its disc and its plumes. */
const TEASEL_SKY = { x: 60, y: 820, width: 200, height: 120 };
const evened = [{ do: 'gradient', smoothing: 10 }];

/** Recipes that come with the Teasel. */
const TEASEL_RECIPES: readonly Recipe[] = [
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Plumes alone',
    sky: TEASEL_SKY,
    frame: 'R',
    strands: [
      { id: 'R', from: { stack: 'R' }, steps: evened },
      {
        id: 'Ha',
        from: { stack: 'Ha' },
        steps: [
          { do: 'align', to: 'R' },
          ...evened,
          { do: 'continuum', broad: 'R', matchSeeing: true, mend: true },
          { do: 'denoise' },
        ],
      },
    ],
    cloth: {
      layers: [
        {
          id: 'plumes',
          of: { strand: 'Ha' },
          steps: [
            { do: 'stretch', target: 0.1 },
            { do: 'levels', black: 0.11, mid: 0.36, white: 0.9 },
            { do: 'tint', colour: '#ff9a86' },
          ],
        },
      ],
      extent: 'common',
    },
  },
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Blush of the Teasel',
    sky: TEASEL_SKY,
    strands: [
      { id: 'R', from: { stack: 'R' }, steps: evened },
      { id: 'G', from: { stack: 'G' }, steps: evened },
      { id: 'B', from: { stack: 'B' }, steps: evened },
      { id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'align', to: 'R' }, ...evened, { do: 'linear-fit', to: 'R' }] },
      {
        id: 'glow',
        from: { strand: 'Ha' },
        steps: [{ do: 'continuum', broad: 'R', matchSeeing: true, mend: true }, { do: 'denoise' }],
      },
      {
        id: 'RGB',
        from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } }, weights: 'as-is' },
        steps: [{ do: 'calibrate', method: 'catalogue' }, { do: 'level-sky' }],
      },
      {
        id: 'reddened',
        from: {
          formula:
            '# a share of hydrogen in red; green and blue stay\nred = mix(RGB.red, RGB.red + 2.6 * (glow - sky(glow)), 0.6)\ngreen = RGB.green\nblue = RGB.blue + 0.12 * max(0, glow - sky(glow))',
        },
        steps: [],
      },
    ],
    masks: [
      {
        id: 'emission',
        of: { strand: 'glow' },
        steps: [
          { do: 'stretch', target: 0.1 },
          { do: 'levels', black: 0.13, mid: 0.35, white: 0.6 },
          { do: 'blur', radius: 2 },
        ],
      },
    ],
    cloth: {
      layers: [
        { id: 'daylight', of: { strand: 'RGB' }, steps: [{ do: 'stretch', target: 0.12 }] },
        {
          id: 'blush',
          name: 'hydrogen, only where it shines',
          of: { strand: 'reddened' },
          steps: [{ do: 'stretch', target: 0.12 }],
          mask: 'emission',
        },
      ],
      steps: [{ do: 'levels', black: 0.03, mid: 0.46, white: 0.98 }],
      extent: 'common',
    },
  },
  LIFTED,
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Thistle in bloom',
    sky: TEASEL_SKY,
    strands: [
      { id: 'R', from: { stack: 'R' }, steps: evened },
      { id: 'G', from: { stack: 'G' }, steps: evened },
      { id: 'B', from: { stack: 'B' }, steps: evened },
      {
        id: 'Ha',
        from: { stack: 'Ha' },
        steps: [
          { do: 'align', to: 'R' },
          ...evened,
          { do: 'continuum', broad: 'R', matchSeeing: true, mend: true },
          { do: 'denoise', strength: 0.8 },
        ],
      },
      {
        id: 'RGB',
        from: { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } }, weights: 'as-is' },
        steps: [{ do: 'calibrate', method: 'catalogue' }, { do: 'level-sky' }],
      },
      {
        id: 'bloom',
        from: {
          formula:
            '# hydrogen, free of starlight, laid onto the galaxy in its own rose\nh = max(0, Ha - sky(Ha) - 0.04 * (R - sky(R)))\nred = RGB.red + 1.6 * h\ngreen = RGB.green + 0.2 * h\nblue = RGB.blue + 0.5 * h',
        },
        steps: [],
      },
    ],
    cloth: {
      layers: [{ id: 'galaxy', of: { strand: 'bloom' }, steps: [{ do: 'stretch', target: 0.12 }] }],
      steps: [{ do: 'levels', black: 0.03, mid: 0.46, white: 0.98 }],
      extent: 'common',
    },
  },
];

/** Recipes for the Moth through a colour camera. */
const COLOUR_RECIPES: readonly Recipe[] = [
  {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'Two lines from one file',
    sky: SKY,
    strands: [
      { id: 'Dual', from: { stack: 'Ha+OIII' }, steps: [{ do: 'gradient' }, { do: 'unmix' }] },
      { id: 'Ha', from: { formula: 'Dual.red' }, steps: [] },
      { id: 'OIII', from: { formula: 'Dual.green' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
      {
        id: 'between',
        from: {
          formula:
            '# a third line that was never taken: strong only where both are\nsky(Ha) + sqrt(max(0, Ha - sky(Ha)) * max(0, OIII - sky(OIII)))',
        },
        steps: [],
      },
    ],
    cloth: {
      layers: [
        {
          id: 'base',
          of: { mix: { red: { Ha: 1 }, green: { OIII: 0.7, between: 0.3 }, blue: { OIII: 1 } }, weights: 'share' },
          steps: [{ do: 'stretch', target: 0.12 }],
        },
      ],
      steps: [{ do: 'levels', black: 0.04, mid: 0.48 }],
      extent: 'common',
    },
  },
];

/** Recipes of each demo target by its folder. */
export const DEMO_RECIPES: Readonly<Record<string, readonly Recipe[]>> = {
  'lantern-moth': MOTH_RECIPES,
  teasel: TEASEL_RECIPES,
  'lantern-moth-in-colour': COLOUR_RECIPES,
};
