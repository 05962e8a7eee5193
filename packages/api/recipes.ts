import { z } from 'zod';
import { REQUESTABLE } from '@owl-loom/engine/measurement-plan';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { id, instant, recipeBody } from './wire';

export const recipeRow = z.object({
  id,
  targetId: id,
  name: z.string(),
  /** Number of its newest version. */
  revision: z.int(),
  createdAt: instant,
  updatedAt: instant,
});

export const recipeWithBody = recipeRow.extend({ body: recipeBody });

export const newRecipe = z.strictObject({ body: recipeBody });

/** Version numbers are columns of four bytes. */
const MOST_VERSIONS = 2 ** 31 - 1;

export const recipeSave = z.strictObject({
  /** Number of the version that was edited. */
  parent: z.int().nonnegative().max(MOST_VERSIONS),
  body: recipeBody,
  /** Names this very save: sent twice, it counts once. */
  key: z.uuid().optional(),
});

export const coverQuery = z.object({
  /** Any cover will do, and none is made. */
  any: z.literal('1').optional(),
});
/** File name of a cover; `fresh` where it shows the newest version. */
export const cover = z.object({ name: z.string().nullable(), fresh: z.boolean() });

/** An earlier version of a recipe. */
export const stateRow = z.object({
  id,
  recipeId: id,
  /** Null for one that lost in a conflict. */
  number: z.int().nullable(),
  conflict: z.boolean(),
  /** What someone called it. */
  label: z.string().nullable(),
  /** File name of its picture, once that is woven, or why it has none. */
  picture: z.string().nullable(),
  trouble: z.string().nullable(),
  createdAt: instant,
});
export type StateRow = z.input<typeof stateRow>;

export const stateWithBody = stateRow.omit({ picture: true, trouble: true }).extend({ body: recipeBody });
export const stateLabel = z.strictObject({ label: z.string().trim().max(200).nullable() });

/** Images of a recipe that are wanted, by path. */
export const measureRequest = z.strictObject({
  recipe: recipeBody,
  /** Paths whose pixels are wanted. */
  paths: z.array(z.string().max(200)).max(50),
  /** Measurements wanted besides, for people to look at. */
  also: z.array(z.strictObject({ figure: z.enum(REQUESTABLE), path: z.string().max(200) })).max(100),
});
/** With `known`, what is measured already is all that is asked for. */
export const measureBody = measureRequest.extend({ known: z.boolean().optional() });

/** What is known of the measurements that were asked for, by their keys. */
export const measured = z.object({
  figures: z.record(z.string(), z.custom<Measurement>()),
  /** Why one cannot be had. */
  failed: z.record(z.string(), z.string()),
  /** Why a picture of the paths cannot be finished. */
  obstacle: z.string().nullable(),
  /** The job that measures the others. */
  job: id.nullable(),
});

export const proofRequest = z.strictObject({ recipe: recipeBody, path: z.string().max(200) });
/** Names of the pixels of a proof and of the images before it that are cached; `job` while they are being made. */
export const proof = z.object({ pixels: z.string(), kept: z.array(z.string()), job: id.nullable() });
