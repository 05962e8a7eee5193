import { z } from 'zod';
import { type Pattern, patternBody } from '@owl-loom/recipe/patterns/schema';
import type { StackAssessment } from '@owl-loom/recipe/palettes/prepare';
import type { StackMetrics } from '@owl-loom/recipe/stack-replacement';
import type { Recipe } from '@owl-loom/recipe/schema';
import { id, instant, list, recipeBody } from './wire';

const text = (what: string) => ({
  name: z.string().trim().min(1, `give the ${what} a name`).max(200),
  says: z.string().trim().max(500).default(''),
});

/** A palette as a target can weave it. */
export const sheetEntry = z.object({
  /** Of one that someone saved; those that come with Owl Loom have none. */
  id: id.optional(),
  name: z.string(),
  says: z.string(),
  /** Filters that this target lacks. */
  missing: list(z.string()),
  /** The recipe for this target's stacks; none where filters are missing. */
  recipe: z.custom<Recipe>().optional(),
  /** File name of its picture, and whether that is there. */
  picture: z.string().optional(),
  ready: z.boolean(),
  /** Why it cannot be woven. */
  trouble: z.string().optional(),
});
export type SheetEntry = z.output<typeof sheetEntry>;

/** Every palette for a target, and what is known of its stacks. */
export const sheet = z.object({ entries: list(sheetEntry), ground: z.custom<StackAssessment>() });
export type Sheet = z.output<typeof sheet>;

/** A palette of no target: its stacks are called by their filters. */
export const palette = z.object({ id: id.optional(), name: z.string(), says: z.string(), recipe: z.custom<Recipe>() });
export const newPalette = z.strictObject({ ...text('palette'), recipe: recipeBody });
export const savedPalette = z.object({ id, name: z.string(), says: z.string() });

/** A piece of weaving that someone saved. */
export const patternRow = z.object({
  id,
  name: z.string(),
  says: z.string(),
  body: z.custom<Pattern>(),
  createdAt: instant,
});
export type PatternRow = z.input<typeof patternRow>;
export const savedPattern = patternRow.omit({ createdAt: true });

/** A pattern as it was written: what the check fills in would stand in every recipe that it is applied to. */
const patternAsWritten = z.unknown().superRefine((value, { issues }) => {
  const { error } = patternBody.safeParse(value);
  for (const issue of error?.issues ?? []) issues.push({ ...issue, input: value } as (typeof issues)[number]);
}) as z.ZodType<Pattern, Pattern>;
export const newPattern = z.strictObject({ ...text('pattern'), body: patternAsWritten });

/** A stack that a newer file replaced, with swatches of the recipes that use it, as they were. */
export const replacementRow = z.object({
  id,
  targetId: id,
  stackId: id,
  stackName: z.string(),
  before: z.custom<StackMetrics>(),
  after: z.custom<StackMetrics>(),
  kept: list(z.object({ recipeId: id, swatchId: id })),
  createdAt: instant,
});
export type ReplacementRow = z.input<typeof replacementRow>;
