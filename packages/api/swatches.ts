import { z } from 'zod';
import { id, instant, recipeBody } from './wire';

const name = z.string().trim().min(1, 'give the swatch a name').max(200);
const note = z.string().trim().max(2000);

/** A saved state of a recipe; the recipe itself is asked for by its id. */
export const swatchRow = z.object({
  id,
  targetId: id,
  recipeId: id,
  name: z.string(),
  note: z.string(),
  /** File name of its picture, once that is woven, or why it has none. */
  picture: z.string().nullable(),
  trouble: z.string().nullable(),
  createdAt: instant,
});
export type SwatchRow = z.input<typeof swatchRow>;

export const swatchWithBody = swatchRow.extend({ body: recipeBody });
export const newSwatch = z.strictObject({
  recipeId: id,
  body: recipeBody,
  name: name.optional(),
  note: note.default(''),
});
export const swatchChange = z.strictObject({ name: name.optional(), note: note.optional() });
