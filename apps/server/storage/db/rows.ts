import type { StackMetrics } from '@owl-loom/recipe/stack-replacement';
import type { Pattern } from '@owl-loom/recipe/patterns/schema';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { Card } from '@owl-loom/image/fits/cards';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { ExportRow } from '@owl-loom/api/exports';
import type { JobKind, JobState } from '@owl-loom/api/jobs';
import type { ServerStatus } from '@owl-loom/api/maintenance';
import type { StackRow, StackStatistics } from '@owl-loom/api/stacks';

/** What can be put into the trash. */
export interface Trashable {
  /** When that was; null while it is not there. */
  deletedAt: Date | null;
}

/** One object in the sky. */
export interface Target extends Trashable {
  id: string;
  name: string;
  createdAt: Date;
}

/** An imported file as it stands in a target. Its pixels lie in files named by `hash`, `divisor` and `edgesBlank`. */
export interface Stack extends Trashable {
  id: string;
  targetId: string;
  /** Name by which recipes know it; unique in its target. */
  name: string;
  fileName: string;
  /** SHA-256 of the file. */
  hash: string;
  bytes: string;
  width: number;
  height: number;
  planes: number;
  type: string;
  divisor: number;
  domain: StackRow['domain'];
  filter: string | null;
  /** Nanometres. */
  wavelength: number | null;
  exposure: number | null;
  topDown: boolean;
  cards: Card[];
  figures: StackStatistics;
  /** Share of the pixels that are zeros joined to the edge, and whether they are taken for no data. */
  edgeZeros: number;
  edgesBlank: boolean;
  /** Why its pixels cannot be had: its file is not there, or is damaged. */
  lacking: StackRow['lacking'];
  createdAt: Date;
}

export interface StoredRecipe extends Trashable {
  id: string;
  targetId: string;
  name: string;
  /** Number of the newest revision that is not a refused one. */
  revision: number;
  createdAt: Date;
  updatedAt: Date;
}

/** A saved state of a recipe. A save that came too late is kept too, as `conflict`. */
export interface Revision {
  id: string;
  recipeId: string;
  number: number | null;
  parent: number;
  conflict: boolean;
  /** What someone called it; such a state stays. */
  label: string | null;
  body: unknown;
  createdAt: Date;
}

/** A measurement measured at full size, by the hash of all that it depends on. */
export interface MeasurementRow {
  key: string;
  figure: Measurement;
  createdAt: Date;
}

export interface Job {
  id: string;
  kind: JobKind;
  /** Null for work on the whole server. */
  targetId: string | null;
  state: JobState;
  title: string;
  payload: unknown;
  result: unknown;
  progress: number;
  message: string | null;
  attempts: number;
  createdAt: Date;
  updatedAt: Date;
}

/** A kept state of a recipe, with its picture. It stays as it is, whatever becomes of the recipe. */
export interface Swatch extends Trashable {
  id: string;
  targetId: string;
  /** The recipe whose state it was; that may have been removed since. */
  recipeId: string;
  name: string;
  note: string;
  body: unknown;
  /** File name of its picture, once that is woven. */
  picture: string | null;
  /** Why it has no picture. */
  trouble: string | null;
  createdAt: Date;
}

/** A written file and how it was made. */
export interface Export extends Trashable {
  id: string;
  targetId: string;
  recipeId: string;
  revision: number;
  fileName: string;
  format: ExportRow['format'];
  depth: number;
  bytes: string;
  width: number;
  height: number;
  report: ExportRow['report'];
  /** What was asked for, so that it can be made again the same; null for files of before this was kept. */
  request: ExportRow['request'];
  /** SHA-256 of the file. */
  sum: string | null;
  createdAt: Date;
}

/** A palette that someone kept: a recipe in which filters stand in place of stacks. */
export interface StoredPalette {
  id: string;
  name: string;
  says: string;
  body: Recipe;
  createdAt: Date;
}

/** A piece of weaving that someone kept: steps, a mask or layers, with the strands that they read as roles. */
export interface StoredPattern {
  id: string;
  name: string;
  says: string;
  body: Pattern;
  createdAt: Date;
}

/** A stack that a newer file took the place of, and the recipes that read it as they were. */
export interface Renewal {
  id: string;
  targetId: string;
  stackId: string;
  stackName: string;
  before: StackMetrics;
  after: StackMetrics;
  kept: readonly { recipeId: string; swatchId: string }[];
  createdAt: Date;
}

/** Something that went on by itself, for whoever asks how the server is. */
export interface MaintenanceEntry {
  id: string;
  kind: ServerStatus['notes'][number]['kind'];
  says: string;
  createdAt: Date;
}

/** Something that is set for the whole server. */
export interface Setting {
  name: string;
  value: unknown;
}
