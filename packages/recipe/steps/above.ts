import { z } from 'zod';

/**
 * OKLab chroma from which a step acts fully, falling smoothly to nothing at a tenth of it; `auto` takes five times the chroma noise of the true
 * sky, at least 0.04, and nothing below twice that noise.
 */
export const above = z.union([z.number().nonnegative(), z.literal('auto')]);
export type Above = z.output<typeof above>;
