import { z } from 'zod';
import { layer, maskUse, step, type Layer, type Mask, type Step } from '../schema';

/** A strand that a pattern reads, by the name that it has there, and the filter that it was taken through; null where it was woven itself. */
const role = z.strictObject({ id: z.string().min(1).max(120), filter: z.string().max(120).nullable() });

const named = z.array(z.looseObject({ id: z.string().min(1).max(120) }).and(maskUse)).max(100);

/** A piece of weaving that belongs to no target: a list of steps, a mask, or a set of layers, with the strands that it reads as roles. */
export const patternBody = z.strictObject({
  kind: z.enum(['steps', 'mask', 'layers']),
  roles: z.array(role).max(100),
  steps: z.array(step).max(500).optional(),
  layers: z.array(layer).max(500).optional(),
  /** Shared masks that it is seen through; of a mask, itself, last. */
  masks: named.optional(),
});

/** {@link patternBody}, as the recipe's own types have its parts. */
export interface Pattern {
  readonly kind: 'steps' | 'mask' | 'layers';
  readonly roles: readonly { readonly id: string; readonly filter: string | null }[];
  readonly steps?: readonly Step[];
  readonly layers?: readonly Layer[];
  readonly masks?: readonly (Mask & { id: string })[];
}
