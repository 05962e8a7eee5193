import { z } from 'zod';
import { limited } from '../limits';

const point = z.strictObject({ x: z.number(), y: z.number() });
const circle = z.strictObject({ x: z.number(), y: z.number(), radius: z.number().positive() });

/** What steps that take stars out are given. */
export const starRemovalParams = {
  sensitivity: z.number().positive().default(1),
  grow: z.number().nonnegative().default(1),
  also: limited('also', circle).default([]),
  spare: limited('spare', point).default([]),
  /** A stack that shows the same without its stars, made elsewhere: it takes the place of all that would be found. */
  partner: z.string().min(1).optional(),
};

/** How stars are taken out of an image: how boldly, times the gaps that they ask for, circles by hand, and stars that stay. */
export type StarRemovalParams = z.output<z.ZodObject<typeof starRemovalParams>>;

/** As stars are taken out where nothing is said. */
export const DEFAULT_STAR_REMOVAL: StarRemovalParams = { sensitivity: 1, grow: 1, also: [], spare: [] };
