import { z } from 'zod';
import type { StackInfo } from '@owl-loom/engine/graph';
import type { PlaneSummary } from '@owl-loom/image/stats/summary';
import { id, instant, list } from './wire';

export const domain = z.enum(['linear', 'stretched']);

/** What is measured of a stack when it is imported; lists have one entry a plane. */
export const stackStatistics = z.object({
  planes: list(z.custom<PlaneSummary>()),
  stars: list(
    z.object({ count: z.int(), /** Pixels; null where there are too few stars. */ fwhm: z.number().nullable() }),
  ),
});
export type StackStatistics = z.output<typeof stackStatistics>;

export const stackRow = z.object({
  id,
  targetId: id,
  name: z.string(),
  fileName: z.string(),
  /** Size of the file. */
  bytes: z.number(),
  width: z.int(),
  height: z.int(),
  planes: z.int(),
  /** Pixel type of the file, as FITS names it or its picture format. */
  type: z.string(),
  /** Pixel values are divided by this, so that full scale is 1. */
  divisor: z.number(),
  domain,
  filter: z.string().nullable(),
  /** Nanometres. */
  wavelength: z.number().nullable(),
  /** Seconds. */
  exposure: z.number().nullable(),
  /** Share of the pixels that are zeros joined to the edge, 0 to 1. */
  edgeZeros: z.number(),
  /** Whether those zeros are treated as no data. */
  edgesBlank: z.boolean(),
  /** Why its pixels cannot be had. */
  lacking: z.enum(['missing', 'damaged']).nullable(),
  /** Name of its pixel data. */
  pixels: z.string(),
  /** Value of the header's OBJECT card. */
  object: z.union([z.string(), z.number(), z.boolean()]).nullable(),
  wcs: z.custom<NonNullable<StackInfo['wcs']>>().nullable(),
  figures: stackStatistics,
  createdAt: instant,
});
export type StackRow = z.input<typeof stackRow>;

export const stackChange = z.strictObject({
  name: z.string().trim().min(1).max(64).optional(),
  filter: z.string().trim().max(64).nullable().optional(),
  /** Nanometres. */
  wavelength: z.number().min(100).max(30_000).nullable().optional(),
  domain: domain.optional(),
  /** Seconds. */
  exposure: z.number().positive().nullable().optional(),
});

export type StackChange = z.input<typeof stackChange>;

export const edgeChange = z.strictObject({ blank: z.boolean() });

/** Another full scale for some stacks of a target, or all; null detects it from the files. */
export const scaleChange = z.strictObject({
  divisor: z.number().positive().max(1e12).nullable(),
  stacks: z.array(id).max(200).optional(),
});

/** What became of a file: its import has begun, or its stack is there already. */
export const taken = z.union([
  z.object({
    again: z.literal(true),
    stack: id,
    name: z.string(),
    /** Its file was missing or damaged, and has come again. */
    mended: z.literal(true).optional(),
  }),
  z.object({ again: z.literal(false), job: id }),
]);
export type Taken = z.output<typeof taken>;

/** Files in the inbox of the data folder. */
export const inbox = z.object({ folder: z.string(), files: list(z.object({ name: z.string(), bytes: z.number() })) });
export const inboxChoice = z.strictObject({ files: z.array(z.string().min(1).max(255)).min(1).max(500) });

/** Of each file that was chosen: what became of it, or why it was refused. */
export const inboxResult = list(
  z.union([z.object({ name: z.string(), trouble: z.string() }), z.object({ name: z.string() }).and(taken)]),
);
