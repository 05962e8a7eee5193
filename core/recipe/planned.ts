import { z } from 'zod';

/** Step kinds whose parameters are settled and checked, and whose work is still to come. */
const range = (low: number, high: number) => z.number().min(low).max(high);

export const PLANNED = {
  deconvolve: z.strictObject({ rounds: z.int().min(1).max(200).default(10), strength: range(0, 1).default(1) }),
} as const;
