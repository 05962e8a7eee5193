import type { StackFacts } from '../../core/stack/renewal';
import type { Pattern } from '../../core/pattern/schema';
import { EntitySchema } from 'typeorm';
import type { Figure } from '../../core/figures/index';
import type { Card } from '../../core/fits/cards';
import type { Recipe } from '../../core/recipe/schema';
import type { PlaneSummary } from '../../core/stats/summary';

/** One object in the sky. */
export interface Target {
  id: string;
  name: string;
  createdAt: Date;
}

/** A stack's figures, a list with one entry a plane. */
export interface StackFigures {
  planes: PlaneSummary[];
  stars: { count: number; fwhm: number | null }[];
}

/** An imported file as it stands in a target. Its pixels lie in files named by `hash`, `divisor` and `edgesBlank`. */
export interface Stack {
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
  domain: string;
  filter: string | null;
  /** Nanometres. */
  wavelength: number | null;
  exposure: number | null;
  topDown: boolean;
  cards: Card[];
  figures: StackFigures;
  /** Share of the pixels that are zeros joined to the edge, and whether they are taken for no data. */
  edgeZeros: number;
  edgesBlank: boolean;
  createdAt: Date;
}

export interface StoredRecipe {
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
  body: unknown;
  createdAt: Date;
}

/** A figure measured at full size, by the hash of all that it depends on. */
export interface Measurement {
  key: string;
  figure: Figure;
  createdAt: Date;
}

export type JobKind = 'import' | 'measure' | 'render' | 'proof' | 'cover' | 'sheet' | 'swatch';
export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface Job {
  id: string;
  kind: JobKind;
  targetId: string;
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
export interface Swatch {
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
export interface Export {
  id: string;
  targetId: string;
  recipeId: string;
  revision: number;
  fileName: string;
  format: string;
  depth: number;
  bytes: string;
  width: number;
  height: number;
  report: unknown;
  /** What was asked for, so that it can be made again the same; null for files of before this was kept. */
  request: unknown;
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
  before: StackFacts;
  after: StackFacts;
  kept: readonly { recipeId: string; swatchId: string }[];
  createdAt: Date;
}

const id = { type: 'varchar', length: 36, primary: true } as const;
const ref = { type: 'varchar', length: 36 } as const;
const created = { type: 'datetime', precision: 3, createDate: true } as const;
const updated = { type: 'datetime', precision: 3, updateDate: true } as const;
const json = { type: 'json' } as const;
/** JSON as bytes: a text of megabytes, such as a list of stars, would be searched for what must be escaped, on the thread that answers requests. */
const packed = {
  type: 'longblob',
  transformer: {
    to: (value: unknown) => Buffer.from(JSON.stringify(value)),
    from: (bytes: Buffer): unknown => JSON.parse(bytes.toString('utf8')),
  },
} as const;

export const TargetEntity = new EntitySchema<Target>({
  name: 'targets',
  columns: { id, name: { type: 'varchar', length: 200 }, createdAt: created },
});

export const StackEntity = new EntitySchema<Stack>({
  name: 'stacks',
  columns: {
    id,
    targetId: ref,
    name: { type: 'varchar', length: 64 },
    fileName: { type: 'varchar', length: 255 },
    hash: { type: 'char', length: 64 },
    bytes: { type: 'bigint' },
    width: { type: 'int' },
    height: { type: 'int' },
    planes: { type: 'int' },
    type: { type: 'varchar', length: 16 },
    divisor: { type: 'double' },
    domain: { type: 'varchar', length: 16 },
    filter: { type: 'varchar', length: 64, nullable: true },
    wavelength: { type: 'double', nullable: true },
    exposure: { type: 'double', nullable: true },
    topDown: { type: 'boolean' },
    cards: json,
    figures: json,
    edgeZeros: { type: 'double' },
    edgesBlank: { type: 'boolean' },
    createdAt: created,
  },
});

export const RecipeEntity = new EntitySchema<StoredRecipe>({
  name: 'recipes',
  columns: {
    id,
    targetId: ref,
    name: { type: 'varchar', length: 200 },
    revision: { type: 'int' },
    createdAt: created,
    updatedAt: updated,
  },
});

export const RevisionEntity = new EntitySchema<Revision>({
  name: 'revisions',
  columns: {
    id,
    recipeId: ref,
    number: { type: 'int', nullable: true },
    parent: { type: 'int' },
    conflict: { type: 'boolean' },
    body: json,
    createdAt: created,
  },
});

export const MeasurementEntity = new EntitySchema<Measurement>({
  name: 'measurements',
  columns: { key: { type: 'char', length: 32, primary: true }, figure: packed, createdAt: created },
});

export const JobEntity = new EntitySchema<Job>({
  name: 'jobs',
  columns: {
    id,
    kind: { type: 'varchar', length: 16 },
    targetId: ref,
    state: { type: 'varchar', length: 16 },
    title: { type: 'varchar', length: 255 },
    payload: json,
    result: { ...json, nullable: true },
    progress: { type: 'double' },
    message: { type: 'text', nullable: true },
    attempts: { type: 'int' },
    createdAt: created,
    updatedAt: updated,
  },
});

export const ExportEntity = new EntitySchema<Export>({
  name: 'exports',
  columns: {
    id,
    targetId: ref,
    recipeId: ref,
    revision: { type: 'int' },
    fileName: { type: 'varchar', length: 255 },
    format: { type: 'varchar', length: 8 },
    depth: { type: 'int' },
    bytes: { type: 'bigint' },
    width: { type: 'int' },
    height: { type: 'int' },
    report: json,
    request: { ...json, nullable: true },
    sum: { type: 'varchar', length: 64, nullable: true },
    createdAt: created,
  },
});

export const RenewalEntity = new EntitySchema<Renewal>({
  name: 'renewals',
  columns: {
    id,
    targetId: ref,
    stackId: ref,
    stackName: { type: 'varchar', length: 200 },
    before: json,
    after: json,
    kept: json,
    createdAt: created,
  },
});

export const PatternEntity = new EntitySchema<StoredPattern>({
  name: 'patterns',
  columns: {
    id,
    name: { type: 'varchar', length: 200, unique: true },
    says: { type: 'varchar', length: 500 },
    body: json,
    createdAt: created,
  },
});

export const PaletteEntity = new EntitySchema<StoredPalette>({
  name: 'palettes',
  columns: {
    id,
    name: { type: 'varchar', length: 200, unique: true },
    says: { type: 'varchar', length: 500 },
    body: json,
    createdAt: created,
  },
});

export const SwatchEntity = new EntitySchema<Swatch>({
  name: 'swatches',
  columns: {
    id,
    targetId: ref,
    recipeId: ref,
    name: { type: 'varchar', length: 200 },
    note: { type: 'varchar', length: 2000 },
    body: json,
    picture: { type: 'varchar', length: 80, nullable: true },
    trouble: { type: 'varchar', length: 500, nullable: true },
    createdAt: created,
  },
});

export const ENTITIES = [
  TargetEntity,
  StackEntity,
  RecipeEntity,
  RevisionEntity,
  MeasurementEntity,
  JobEntity,
  ExportEntity,
  PaletteEntity,
  PatternEntity,
  RenewalEntity,
  SwatchEntity,
];
