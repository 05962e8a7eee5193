import { z } from 'zod';

/** Step kinds whose parameters are settled and checked, and whose work is still to come. */
export const PLANNED = {
  deconvolve: z.strictObject({
    rounds: z.int().min(1).max(200).default(10),
    strength: z.number().min(0).max(1).default(1),
  }),
} as const;
