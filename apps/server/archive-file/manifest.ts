import type { PlaneSummary } from '@owl-loom/image/stats/summary';
import { z } from 'zod';
import { UserError } from '@owl-loom/base/errors';

export const ARCHIVE_FORMAT = 'owl-loom-archive';
/** Version of an archive whose originals are as they came in, and of one whose headers do not say who and where. */
export const ARCHIVE_VERSIONS = { whole: 1, redacted: 2 } as const;
/** Name of the manifest in the zip. */
export const MANIFEST = 'manifest.json';
/** Name of the file with its SHA-256, in hexadecimal: every other file has its own in the manifest. */
export const MANIFEST_SUM = 'manifest.sha256';
/** Bytes that a manifest may have: those of hundreds of stacks with long headers have a few millions. */
export const MANIFEST_BYTES = 16 * 2 ** 20;
/** Entries that a list of it may have. */
const MANY = 50_000;

const id = z.uuid();
const name = z.string().min(1).max(200);
const time = z.iso.datetime();
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const nullable = z.number().nullable();
/** Numbers by name: archives of other versions may have others. */
const planeSummary = z.record(z.string(), nullable) as unknown as z.ZodType<PlaneSummary>;

/** Names of entries: nothing that could climb out of a folder, since a zip's names may say anything. */
const entry = z
  .string()
  .regex(
    /^(originals|recipes|swatches|palettes|patterns)\/[0-9a-f-]{1,64}\.(fits|json|jpg)$/,
    'this is no entry that an archive has',
  );

/** A file in the zip, by its name there. */
const file = z.strictObject({ entry, bytes: z.int().nonnegative(), sha256 });
export type ArchivedFile = z.output<typeof file>;

const card = z.strictObject({
  key: z.string().max(200),
  value: z.union([z.string(), z.number(), z.boolean()]).optional(),
  comment: z.string().optional(),
  images: z.array(z.string()).max(10_000),
});

const stack = z.strictObject({
  id,
  name: z.string().min(1).max(64),
  fileName: z.string().min(1).max(255),
  hash: sha256,
  bytes: z.int().nonnegative(),
  width: z.int().positive().max(200_000),
  height: z.int().positive().max(200_000),
  planes: z.union([z.literal(1), z.literal(3)]),
  type: z.string().max(16),
  divisor: z.number().positive(),
  domain: z.enum(['linear', 'stretched']),
  filter: z.string().max(64).nullable(),
  /** Nanometres. */
  wavelength: nullable,
  /** Seconds. */
  exposure: nullable,
  topDown: z.boolean(),
  cards: z.array(card).max(MANY),
  figures: z.strictObject({
    planes: z.array(planeSummary).max(3),
    stars: z.array(z.strictObject({ count: z.number(), fwhm: nullable })).max(3),
  }),
  edgeZeros: z.number(),
  edgesBlank: z.boolean(),
  createdAt: time,
  /** SHA-256 of the file as it came in, where the archive has it without who and where. */
  redactedFrom: sha256.optional(),
  /** The file; null in an archive without originals. */
  original: file.nullable(),
});
export type ArchivedStack = z.output<typeof stack>;

const state = z.strictObject({
  id,
  number: z.int().positive().nullable(),
  parent: z.int().nonnegative(),
  conflict: z.boolean(),
  label: z.string().max(200).nullable(),
  createdAt: time,
  recipe: file,
});

const recipe = z.strictObject({
  id,
  name,
  revision: z.int().positive(),
  createdAt: time,
  states: z.array(state).min(1).max(MANY),
});
export type ArchivedRecipe = z.output<typeof recipe>;

const swatch = z.strictObject({
  id,
  recipeId: id,
  name,
  note: z.string().max(2000),
  createdAt: time,
  recipe: file,
  /** Its picture and what that is called in a house; null where it has none. */
  picture: z.strictObject({ ...file.shape, called: z.string().regex(/^[0-9a-f-]{36}\.[0-9a-f]{32}\.jpg$/) }).nullable(),
});
export type ArchivedSwatch = z.output<typeof swatch>;

const kept = z.strictObject({ id, name, says: z.string().max(500), createdAt: time, body: file });
export type ArchivedTemplate = z.output<typeof kept>;

/** What an archive says that it holds. */
export const manifestSchema = z.strictObject({
  format: z.literal(ARCHIVE_FORMAT),
  version: z.union([z.literal(ARCHIVE_VERSIONS.whole), z.literal(ARCHIVE_VERSIONS.redacted)]),
  made: time,
  /** Version of the Owl Loom that made it. */
  by: z.string().max(40),
  target: z.strictObject({ id, name, createdAt: time }),
  stacks: z.array(stack).max(MANY),
  recipes: z.array(recipe).max(MANY),
  swatches: z.array(swatch).max(MANY),
  palettes: z.array(kept).max(MANY),
  patterns: z.array(kept).max(MANY),
});
export type Manifest = z.output<typeof manifestSchema>;

/** Every file that an archive says it holds. */
export const filesOf = (manifest: Manifest): ArchivedFile[] => [
  ...manifest.stacks.flatMap(({ original }) => original ?? []),
  ...manifest.recipes.flatMap(({ states }) => states.map(({ recipe: body }) => body)),
  ...manifest.swatches.flatMap(({ recipe: body, picture }) => (picture ? [body, picture] : [body])),
  ...manifest.palettes.map(({ body }) => body),
  ...manifest.patterns.map(({ body }) => body),
];

/**
 * Checks what a manifest says.
 * @throws UserError where it is none, or of a newer version
 */
export function parseManifest(value: unknown, called: string): Manifest {
  const { format, version } = (value ?? {}) as { format?: unknown; version?: unknown };
  if (format !== ARCHIVE_FORMAT)
    throw new UserError('not-archive', `${called} is not an Owl Loom archive. Use one made by ./loom archive.`);
  if (typeof version === 'number' && version > ARCHIVE_VERSIONS.redacted)
    throw new UserError('newer-archive', `${called} was made by a newer Owl Loom. Update this one, then open it.`);
  const found = manifestSchema.safeParse(value);
  if (found.success) return found.data;
  throw new UserError(
    'bad-archive',
    `${called} has an invalid manifest (${found.error.issues[0].path.join('.')}: ${found.error.issues[0].message}). Nothing was imported; use another copy.`,
  );
}
