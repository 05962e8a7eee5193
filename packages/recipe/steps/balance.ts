import { z } from 'zod';
import { triple } from '../schema-primitives';
import { above } from './above';
import { defineStep } from './step-spec';

const none = triple.default([0, 0, 0]);

const WARM: z.infer<typeof triple> = [0.02, 0, -0.02];

/** Parameters and texts of *balance*; what it does to pixels is in the engine. */
export const balance = defineStep({
  do: 'balance',
  name: 'colour balance',
  summary: 'Shifts the colour of shadows, midtones and highlights.',
  hints: {
    for: 'Neutral greys stay neutral; watch the sky and the cores of stars.',
    tooMuch: 'Shadows pushed far tint the whole sky.',
  },
  group: 'colour',
  searchTerms: ['colour balance', 'split tone', 'warm', 'cool', 'colour cast'],
  params: z.strictObject({
    shadows: none,
    mids: none,
    lights: none,
    keepLuminance: z.boolean().default(true),
    above: above.optional(),
  }),
  labels: { mids: 'midtones', lights: 'highlights', keepLuminance: 'luminance' },
  accepts: { planes: 'colour', domain: 'stretched' },
  produces: { domain: 'same' },
  initialParams: () => ({ mids: WARM }),
});
