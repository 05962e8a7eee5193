import { z } from 'zod';
import { id, instant, list } from './wire';

/** What can be moved to the trash. Targets come first: what lies in one goes with it. */
export const TRASHABLE = ['target', 'stack', 'recipe', 'swatch', 'export'] as const;
export type TrashKind = (typeof TRASHABLE)[number];

/** Something in the trash; what went with its target is not listed by itself. */
export const trashedRow = z.object({
  kind: z.enum(TRASHABLE),
  id,
  name: z.string(),
  /** Name of the target that it is of; null for a target. */
  target: z.string().nullable(),
  deletedAt: instant,
  /** When it is deleted permanently. */
  until: instant,
});
export type TrashedRow = z.input<typeof trashedRow>;

/** A browser that is signed in. Times are milliseconds since 1970. */
export const sessionRow = z.object({
  id: z.uuid(),
  begun: z.int(),
  used: z.int(),
  /** Address that it came from. */
  from: z.string(),
  /** What the browser says of itself. */
  agent: z.string(),
  /** Whether it is the one that asks. */
  own: z.boolean(),
});
export type SessionRow = z.output<typeof sessionRow>;
export const password = z.strictObject({ password: z.string().max(1000) });

const bytes = z.number().nonnegative();
const count = z.int().nonnegative();

/** Bytes on the disk, by what they are. */
const diskUse = z.object({
  originals: bytes,
  pixels: bytes,
  /** Proofs and cached images of steps; made anew when they are needed. */
  images: bytes,
  exports: bytes,
  /** Swatches, covers, contact sheets, earlier versions. */
  pictures: bytes,
  database: bytes,
  /** Archives to download, files on their way in, the log. */
  other: bytes,
});
export type DiskUse = z.output<typeof diskUse>;

export const maintenanceNote = z.object({
  id,
  kind: z.enum(['swept', 'mended', 'damaged', 'backup']),
  says: z.string(),
  createdAt: instant,
});

/** How the server and its data are: the screen Health. */
export const serverStatus = z.object({
  version: z.string(),
  /** When this run began. */
  since: z.iso.datetime(),
  /** The data folder. */
  root: z.string(),
  /** Whether people give a password first. */
  guarded: z.boolean(),
  database: z.object({ milliseconds: z.number() }),
  queue: z.object({ running: count, waiting: count, failedToday: count }),
  memory: z.object({ own: bytes, /** Of which cached images. */ kept: bytes, free: bytes, total: bytes }),
  cores: count,
  disk: z.object({ free: bytes, total: bytes, by: diskUse }),
  /** The largest first. */
  targets: list(z.object({ id, name: z.string(), trashed: z.boolean(), stacks: count, bytes })),
  /** Stacks whose original is missing or damaged. */
  lacking: list(z.object({ target: z.string(), targetId: id, name: z.string() })),
  notes: list(maintenanceNote),
});
export type ServerStatus = z.input<typeof serverStatus>;

/** When everything is backed up by itself, and where to. */
export const backupSchedule = z.object({
  every: z.enum(['never', 'day', 'week']),
  /** Empty where none was named yet. */
  dir: z.string(),
  /** When that was last done. */
  last: z.iso.datetime().nullable(),
});
export type BackupSchedule = z.output<typeof backupSchedule>;
export const scheduleChange = z.strictObject({
  every: backupSchedule.shape.every.default('never'),
  dir: z.string().trim().max(1000).default(''),
});
