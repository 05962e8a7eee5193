import { z } from 'zod';
import { perPlane } from '../schema-primitives';
import { defineStep } from './step-spec';

const params = z.strictObject({
  curve: z.enum(['asinh', 'midtone', 'power', 'log']).default('asinh'),
  auto: z.boolean().optional(),
  target: z.number().min(0).lt(1).default(0.16),
  black: perPlane.optional(),
  white: perPlane.optional(),
  strength: perPlane.optional(),
  colour: z.enum(['linked', 'unlinked', 'hue']).default('linked'),
});

/** Parameters and texts of *stretch*; what it does to pixels is in the engine. */
export const stretch = defineStep({
  do: 'stretch',
  name: 'stretch',
  summary: 'From linear to display, so that faint things show.',
  hints: {
    for: 'The sky is dark grey, faint gas shows and the brightest cores keep their colour.',
    tooMuch: 'The sky turns pale and noisy, and stars burn out.',
  },
  group: 'show',
  searchTerms: ['asinh', 'midtones', 'histogram', 'nonlinear', 'brighten', 'curve'],
  params,
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'stretched' },
  pinnable: ['black', 'white', 'strength'],
});
