import { z } from 'zod';
import { colour, rectangle } from './parts';

const share = z.number().min(0).max(1);

/** Strokes and shapes laid on a mask. */
const common = {
  mode: z.enum(['hide', 'reveal']),
  strength: share.default(1),
  soft: z.number().nonnegative().default(0),
};
const pair = z.tuple([z.number(), z.number()]);
/** Where the pen was, and the share of the radius that it drew there; all of it where nothing is said. */
const penPoint = z.union([pair, z.tuple([z.number(), z.number(), share])]);
export const paint = z.discriminatedUnion('shape', [
  z.strictObject({
    ...common,
    shape: z.literal('stroke'),
    radius: z.number().positive(),
    points: z.array(penPoint).min(1),
  }),
  z.strictObject({ ...common, shape: z.literal('ellipse'), ...rectangle.shape }),
  z.strictObject({ ...common, shape: z.literal('polygon'), points: z.array(pair).min(3) }),
  z.strictObject({ ...common, shape: z.literal('ramp'), from: pair, to: pair }),
]);

/** What only a mask can be made of. */
export const maskSources = [
  z.strictObject({ starMask: z.string(), grow: z.number().default(1.5) }),
  z.strictObject({ colour }),
] as const;
