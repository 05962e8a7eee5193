import { z } from 'zod';
import { triple } from './parts';

/** Step kinds whose parameters are settled and checked, and whose work is still to come. */
const curve = z.array(z.tuple([z.number(), z.number()])).min(2);
const range = (low: number, high: number) => z.number().min(low).max(high);

export const PLANNED = {
  deconvolve: z.strictObject({ rounds: z.int().min(1).max(200).default(10), strength: range(0, 1).default(1) }),
  sharpen: z.strictObject({
    radius: z.number().positive().default(2),
    amount: z.number().default(0.5),
    halo: range(0, 1).default(0),
    on: z.enum(['luminance', 'planes']).default('luminance'),
  }),
  curves: z.strictObject({
    all: curve.optional(),
    red: curve.optional(),
    green: curve.optional(),
    blue: curve.optional(),
    luminance: curve.optional(),
    chroma: curve.optional(),
  }),
  'hue-bands': z.strictObject({
    bands: z.array(
      z.strictObject({
        centre: z.number(),
        width: z.number().nonnegative(),
        soft: z.number().nonnegative(),
        turn: z.number().default(0),
        chroma: z.number().nonnegative().default(1),
        lightness: z.number().default(0),
        shift: triple.default([0, 0, 0]),
      }),
    ),
  }),
  saturation: z.strictObject({ amount: range(-1, 1).default(0), shadows: range(0, 1).default(1) }),
  balance: z.strictObject({
    shadows: triple.optional(),
    mids: triple.optional(),
    lights: triple.optional(),
    keepLuminance: z.boolean().default(true),
  }),
  cap: z.strictObject({
    colour: z.enum(['green', 'magenta']),
    against: z.enum(['mean', 'greater']).default('mean'),
    strength: range(0, 1).default(1),
  }),
} as const;
