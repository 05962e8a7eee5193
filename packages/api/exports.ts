import { z } from 'zod';
import { id, instant, list } from './wire';

/** File formats that are written; `html` is a page that shows the picture. */
export const FILE_FORMATS = ['fits', 'tif', 'png', 'jpg', 'html'] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

/** Colour profiles of written pictures. */
export const PROFILES = ['srgb', 'p3', 'linear'] as const;
export type Profile = (typeof PROFILES)[number];

const pixels = z.int().positive();

/** What is done to a finished picture before it is written. */
export const finishSchema = z.strictObject({
  /** The part that is written, in the finished picture's own pixels: x from its left, y from its foot. */
  crop: z
    .strictObject({ x: z.int().nonnegative(), y: z.int().nonnegative(), width: pixels, height: pixels })
    .optional(),
  /** Its width in pixels; the height follows. */
  width: pixels.optional(),
  /** What the values mean; sRGB where nothing is said, nothing for linear pictures. */
  profile: z.enum(PROFILES).optional(),
});
export type Finish = z.output<typeof finishSchema>;

/** One file of one version of a recipe. */
export const renderRequest = z.strictObject({
  recipeId: z.uuid(),
  revision: z.int().positive(),
  format: z.enum(FILE_FORMATS),
  /** Bits a sample. */
  depth: z.int().optional(),
  /** A strand or mask in place of the cloth. */
  node: z.string().max(200).optional(),
  ...finishSchema.shape,
  /** Of a JPEG, 1 to 100. */
  quality: z.int().min(1).max(100).optional(),
  /** Of a FITS: leaves out who took it, and where. */
  impersonal: z.boolean().optional(),
  title: z.string().max(500).optional(),
  credits: z.string().max(500).optional(),
  caption: z.string().max(5000).optional(),
  /** File name, with what stands in braces filled in by `fileNameFromPattern`. */
  called: z.string().max(200).optional(),
});
export type RenderRequest = z.output<typeof renderRequest>;

/** A request for a file; of the newest version where none is named. */
export const newExport = renderRequest.omit({ revision: true }).extend({ revision: z.int().positive().optional() });

/** What the page asks for of one file, beside its recipe. */
export type FileRequest = Omit<z.input<typeof newExport>, 'recipeId' | 'revision'>;

const warning = z.object({ path: z.string(), message: z.string() });

export const exportRow = z.object({
  id,
  recipeId: id,
  revision: z.int(),
  fileName: z.string(),
  format: z.enum(FILE_FORMATS),
  depth: z.int(),
  bytes: z.number(),
  width: z.int(),
  height: z.int(),
  report: z.looseObject({ warnings: list(warning) }),
  /** What was asked for; null for files of before that was saved. */
  request: renderRequest.nullable(),
  /** SHA-256 of the file. */
  sum: z.string().nullable(),
  createdAt: instant,
});
export type ExportRow = z.input<typeof exportRow>;
