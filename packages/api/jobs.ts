import { z } from 'zod';
import { measureRequest, proofRequest } from './recipes';
import { renderRequest } from './exports';
import { id, instant, list } from './wire';

const stackResult = z.object({
  stackId: id,
  /** Whether the file was imported already. */
  again: z.literal(true).optional(),
  /** Something that people should know of it. */
  notice: z.string().optional(),
});

/** A thing that a check looks at. */
export const CHECKED = ['file', 'pixels', 'image', 'export', 'swatch', 'recipe', 'database'] as const;
const verifyFault = z.object({
  what: z.enum(CHECKED),
  says: z.string(),
  /** Whether it was repaired. */
  mended: z.boolean(),
});
export type VerifyFault = z.output<typeof verifyFault>;
const verifyReport = z.object({
  /** How many of each were checked. */
  looked: z.record(z.enum(CHECKED), z.int()),
  faults: list(verifyFault),
});
export type VerifyReport = z.output<typeof verifyReport>;

/** What of an archive was new here. */
const unpacked = z.object({
  targetId: id,
  name: z.string(),
  stacks: z.int(),
  recipes: z.int(),
  states: z.int(),
  swatches: z.int(),
  palettes: z.int(),
  patterns: z.int(),
  /** What is otherwise than in the archive, in sentences. */
  notes: list(z.string()),
});
export type Unpacked = z.output<typeof unpacked>;

const backedUp = z.object({
  dir: z.string(),
  /** Files that the backup speaks of, and those that had to be copied. */
  files: z.int(),
  copied: z.int(),
  bytes: z.number(),
});
export type BackedUp = z.output<typeof backedUp>;

/** Every kind of job: what it is given, and what comes of it. Null where there was nothing to do. */
export const JOBS = {
  import: {
    payload: z.strictObject({
      hash: z.string().regex(/^[0-9a-f]{64}$/),
      fileName: z.string().max(255),
      /** Id of the stack whose pixels these become; a new stack where it is left out. */
      into: id.optional(),
      /** Full scale; detected where it is left out. */
      divisor: z.number().positive().optional(),
      /** Whether zeros joined to the edge are no data. */
      edgesBlank: z.boolean().optional(),
    }),
    result: stackResult,
  },
  measure: { payload: measureRequest, result: z.null() },
  render: {
    payload: renderRequest,
    result: z.object({ exportId: id, warnings: list(z.object({ path: z.string(), message: z.string() })) }),
  },
  proof: { payload: proofRequest, result: z.object({ pixels: z.string() }).nullable() },
  cover: { payload: z.strictObject({ recipeId: id }), result: z.object({ recipeId: id, name: z.string() }) },
  sheet: { payload: z.strictObject({}), result: z.null() },
  swatch: {
    payload: z.strictObject({ swatchId: id }),
    result: z.object({ swatchId: id, picture: z.string() }).nullable(),
  },
  past: {
    payload: z.strictObject({ revisionId: id }),
    result: z.object({ revisionId: id, name: z.string() }).nullable(),
  },
  mend: {
    payload: z.strictObject({ stackId: id, why: z.string().max(300) }),
    result: z.object({ stackId: id }).nullable(),
  },
  verify: { payload: z.strictObject({ repair: z.boolean().default(false) }), result: verifyReport },
  archive: {
    payload: z.strictObject({
      /** Whether the files go in as well. */
      originals: z.boolean().default(true),
      /** Whether who took them and where stays out of their headers. */
      impersonal: z.boolean().default(false),
    }),
    result: z.object({ archive: id, fileName: z.string(), bytes: z.number() }),
  },
  restore: {
    payload: z.strictObject({
      /** Name of the file where it came in. */
      incoming: z.uuid(),
      /** What it was called where it came from. */
      fileName: z.string().max(255),
    }),
    result: unpacked,
  },
  backup: { payload: z.strictObject({ dir: z.string().min(1).max(1000) }), result: backedUp },
} satisfies Record<string, { payload: z.ZodType; result: z.ZodType }>;

export type JobKind = keyof typeof JOBS;
export const JOB_KINDS = Object.keys(JOBS) as [JobKind, ...JobKind[]];
/** What a job of a kind is given. */
export type JobPayload<K extends JobKind> = z.output<(typeof JOBS)[K]['payload']>;
export type JobResult<K extends JobKind> = z.output<(typeof JOBS)[K]['result']>;

export const jobState = z.enum(['queued', 'running', 'done', 'failed', 'cancelled']);
export type JobState = z.output<typeof jobState>;

const common = {
  id,
  /** Null for work on everything that is kept. */
  targetId: id.nullable(),
  state: jobState,
  title: z.string(),
  /** 0 to 1. */
  progress: z.number(),
  /** What it does at the moment, in words; null where it does not say. */
  doing: z.string().nullable(),
  /** Why it failed or was stopped. */
  message: z.string().nullable(),
  createdAt: instant,
  updatedAt: instant,
};

type OfKind<Common> = {
  readonly [K in JobKind]: Common & {
    readonly kind: K;
    /** What came of it; null until it is done. */
    readonly result: JobResult<K> | null;
  };
}[JobKind];

/** A job as the page knows it: without its payload, and how often it was tried. */
export type JobRow = OfKind<z.input<z.ZodObject<typeof common>>>;
/** A job of one kind. */
export type JobOf<K extends JobKind> = Extract<JobRow, { kind: K }>;
/** {@link JobRow} on the server, with times as dates. */
export type PublicJob = OfKind<z.output<z.ZodObject<typeof common>>>;

export const jobRow = z
  .object({ ...common, kind: z.enum(JOB_KINDS), result: z.unknown() })
  .refine(({ kind, result }) => result === null || JOBS[kind].result.safeParse(result).success, {
    path: ['result'],
    error: 'This is not the result of its kind of job.',
  }) as unknown as z.ZodType<PublicJob, JobRow>;

/** Events on the line to the page, by name. */
export const EVENTS = {
  hello: z.object({}),
  job: jobRow,
  /** Bytes that are free on the disk. */
  room: z.object({ free: z.number() }),
} as const;
export type EventName = keyof typeof EVENTS;
/** What an event carries, as the page reads it. */
export type EventData<E extends EventName> = z.input<(typeof EVENTS)[E]>;
