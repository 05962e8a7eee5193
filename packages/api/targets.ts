import { z } from 'zod';
import { recipeRow } from './recipes';
import { id, instant, list } from './wire';

/** A target on the shelf, with what its card shows. */
export const targetCard = z.object({
  id,
  name: z.string(),
  createdAt: instant,
  stacks: list(
    z.object({ id, name: z.string(), filter: z.string().nullable(), /** Seconds. */ exposure: z.number().nullable() }),
  ),
  /** Newest first. */
  recipes: list(recipeRow),
  /** File name of the picture of its latest swatch. */
  cover: z.string().nullable(),
});
export type TargetCard = z.input<typeof targetCard>;

export const targetName = z.strictObject({ name: z.string().trim().min(1, 'a target needs a name').max(200) });
