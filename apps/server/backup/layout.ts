import { z } from 'zod';

export const BACKUP_FORMAT = 'owl-loom-backup';
export const BACKUP_VERSION = 1;
/** The file that tells a folder from any other. */
export const MARK = 'owl-loom-backup.json';

/** Folders of files that never change once they are there: each is copied once, whatever number of runs speaks of it. */
export const IMMUTABLE_FOLDERS = ['stacks', 'exports', 'swatches'] as const;

export const markSchema = z.strictObject({ format: z.literal(BACKUP_FORMAT), version: z.int().positive() });

/** What one run has kept. */
export const runSchema = z.strictObject({
  made: z.iso.datetime(),
  by: z.string().max(40),
  /** Name of the dump in `database/`, gzipped SQL, and its SHA-256. */
  database: z.strictObject({ name: z.string().regex(/^[0-9TZ-]+\.sql\.gz$/), sha256: z.string().length(64) }),
  /** Files beside it, under `files/`. */
  files: z.array(
    z.strictObject({
      path: z.string().regex(/^(stacks|exports|swatches)\/[\w.-]+$/),
      bytes: z.int().nonnegative(),
    }),
  ),
});
export type BackupRun = z.output<typeof runSchema>;

/** Runs that are kept; of older ones, what no kept one speaks of goes. */
export const MAX_RUNS = 14;
