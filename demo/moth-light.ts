// Pictures of the Lantern Moth that are made of light laid on light: of itself, of its fine half.
import { layered } from './layered';

/** The gas under its own luminance, dodged with itself where it is bright and darkened where there is none. */
export const LANTERN_LIGHT = layered(
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
export const THREADS_OF_FIRE = layered(
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
