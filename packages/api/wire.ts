import { z } from 'zod';
import type { Recipe } from '@owl-loom/recipe/schema';

/** A time: ISO 8601 text on the wire, a Date on the server. */
export const instant = z.codec(z.iso.datetime(), z.date(), {
  decode: (text) => new Date(text),
  encode: (date) => date.toISOString(),
});

/** A list that nobody changes. */
export const list = <S extends z.ZodType>(item: S) => z.array(item).readonly();

/**
 * A recipe on its way. The page sends and reads recipes. For the server it is whatever came or was stored: a request goes through
 * `parseRecipe`, whose errors name the path in it; what was saved is handed on unread, since an earlier version may have written it.
 */
export const recipeBody = z.unknown() as z.ZodType<unknown, Recipe>;

export const id = z.string().max(36);

/** Reply to a request whose work goes on in a job. */
export const begun = z.object({ job: id });

/** A reply without a body. */
export const nothing = z.void();

/** The body of every refusal. */
export const errorBody = z.looseObject({
  error: z.looseObject({
    code: z.string(),
    /** What happened and what to do, for people. */
    message: z.string(),
    /** Place in the request or recipe that it is about. */
    path: z.string().optional(),
    /** Of a save that came too late: the newest version. */
    revision: z.int().optional(),
    body: z.custom<Recipe>().optional(),
  }),
});
export type ErrorBody = z.input<typeof errorBody>;
