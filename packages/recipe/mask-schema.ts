import { z } from 'zod';
import { limited } from './limits';
import { colour, rectangle } from './schema-primitives';

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
    points: limited('points', penPoint).min(1),
  }),
  z.strictObject({ ...common, shape: z.literal('ellipse'), ...rectangle.shape }),
  z.strictObject({ ...common, shape: z.literal('polygon'), points: limited('points', pair).min(3) }),
  z.strictObject({ ...common, shape: z.literal('ramp'), from: pair, to: pair }),
]);

/** A family of hues, in degrees of OKLCh: where the image that a mask is made of shows it. */
export const hueRange = z.strictObject({
  centre: z.number(),
  width: z.number().min(0).max(360).default(50),
  soft: z.number().min(0).max(180).default(30),
  chroma: z.number().min(0).max(1).default(0.06),
});

/** What only a mask can be made of. */
export const maskSources = [
  z.strictObject({ starMask: z.string(), grow: z.number().default(1.5) }),
  z.strictObject({ colour }),
] as const;
