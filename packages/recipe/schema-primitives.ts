import { z } from 'zod';

/** Pieces from which the recipe's schema is put together. */

export const id = z
  .string()
  .min(1)
  .max(64)
  .regex(/^[^\p{Cc}]+$/u, 'an id is a name without control characters');

/** `#rrggbb`, sRGB-coded. */
export const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'a colour is written #rrggbb');

export const rectangle = z
  .strictObject({
    x: z.number(),
    y: z.number(),
    width: z.number().positive(),
    height: z.number().positive(),
  })
  .meta({ id: 'rectangle', description: 'Frame pixels at full size.' });

/** One number for all planes, or one for each of red, green, blue. */
export const perPlane = z
  .union([z.number(), z.tuple([z.number(), z.number(), z.number()])])
  .meta({ id: 'per-plane', description: 'One number for all planes, or one for each of red, green, blue.' });

export const triple = z.tuple([z.number(), z.number(), z.number()]);

/** Measurements pinned in a step: see each step kind for what it reads. */
export const hold = z.record(z.string(), z.union([z.number(), z.string(), z.array(z.number())]));

/** A value given once or once a plane, as a list of `planes` numbers. */
export function perPlaneValues(value: number | readonly number[], planes: number): number[] {
  return typeof value === 'number' ? new Array<number>(planes).fill(value) : value.slice(0, planes);
}
