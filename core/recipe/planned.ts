import { z } from 'zod';

/** Step kinds whose parameters are settled and checked, and whose work is still to come. */
const curve = z.array(z.tuple([z.number(), z.number()])).min(2);
const range = (low: number, high: number) => z.number().min(low).max(high);

export const PLANNED = {
  deconvolve: z.strictObject({ rounds: z.int().min(1).max(200).default(10), strength: range(0, 1).default(1) }),
  curves: z.strictObject({
    all: curve.optional(),
    red: curve.optional(),
    green: curve.optional(),
    blue: curve.optional(),
    luminance: curve.optional(),
    chroma: curve.optional(),
  }),
} as const;
