import { z } from 'zod';
import { perPlane } from '../schema-primitives';
import { defineStep } from './step-spec';
import { reportNumber } from './report-numbers';

const params = z.strictObject({
  curve: z.enum(['asinh', 'midtone', 'power', 'log']).default('asinh'),
  auto: z.boolean().optional(),
  target: z.number().min(0).lt(1).default(0.16),
  black: perPlane.optional(),
  white: perPlane.optional(),
  strength: perPlane.optional(),
  colour: z.enum(['linked', 'unlinked', 'hue']).default('linked'),
});

/** One number where all planes have the same. */
const oneOrEach = z.union([reportNumber, z.tuple([reportNumber, reportNumber, reportNumber])]);

/** Parameters and texts of *stretch*; what it does to pixels is in the engine. */
export const stretch = defineStep({
  do: 'stretch',
  name: 'stretch',
  summary: 'Stretches linear data so that faint signal shows.',
  hints: {
    for: 'The sky is dark grey, faint nebula shows and the brightest cores keep their colour.',
    tooMuch: 'The sky turns pale and noisy, and stars clip.',
  },
  group: 'show',
  searchTerms: ['asinh', 'midtones', 'histogram', 'nonlinear', 'brighten', 'curve'],
  params,
  labels: { target: 'sky target' },
  reports: z.object({ curve: z.string(), auto: z.boolean(), black: oneOrEach, white: oneOrEach, strength: oneOrEach }),
  accepts: { planes: 'either', domain: 'linear' },
  produces: { domain: 'stretched' },
  pinnable: ['black', 'white', 'strength'],
});
