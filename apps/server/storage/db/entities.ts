import { EntitySchema } from 'typeorm';
import type {
  Target,
  Stack,
  StoredRecipe,
  Revision,
  MeasurementRow,
  Job,
  Swatch,
  Export,
  StoredPalette,
  StoredPattern,
  Renewal,
  Setting,
  MaintenanceEntry,
} from './rows';

export type * from './rows';

const id = { type: 'varchar', length: 36, primary: true } as const;
const ref = { type: 'varchar', length: 36 } as const;
const created = { type: 'datetime', precision: 3, createDate: true } as const;
const updated = { type: 'datetime', precision: 3, updateDate: true } as const;
/** Set while something lies in the trash: it is then found only where that is asked for. */
const trashed = { type: 'datetime', precision: 3, nullable: true, deleteDate: true } as const;
/** JSON as text that the database does not look into: it reads none that is nested deeper than 32, and no half letters. */
const json = { type: 'simple-json' } as const;
/** JSON as bytes: a text of megabytes, such as a list of stars, would be searched for what must be escaped, on the thread that answers requests. */
export const packed = {
  type: 'longblob',
  transformer: {
    to: (value: unknown) => Buffer.from(JSON.stringify(value)),
    from: (bytes: Buffer): unknown => JSON.parse(bytes.toString('utf8')),
  },
} as const;

export const TargetEntity = new EntitySchema<Target>({
  name: 'targets',
  columns: { id, name: { type: 'varchar', length: 200 }, createdAt: created, deletedAt: trashed },
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
    lacking: { type: 'varchar', length: 16, nullable: true },
    createdAt: created,
    deletedAt: trashed,
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
    deletedAt: trashed,
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
    label: { type: 'varchar', length: 200, nullable: true },
    body: json,
    createdAt: created,
  },
});

export const MeasurementEntity = new EntitySchema<MeasurementRow>({
  name: 'measurements',
  columns: { key: { type: 'char', length: 32, primary: true }, figure: packed, createdAt: created },
});

export const JobEntity = new EntitySchema<Job>({
  name: 'jobs',
  columns: {
    id,
    kind: { type: 'varchar', length: 16 },
    targetId: { ...ref, nullable: true },
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
    deletedAt: trashed,
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
    deletedAt: trashed,
  },
});

export const UpkeepEntity = new EntitySchema<MaintenanceEntry>({
  name: 'upkeep',
  columns: { id, kind: { type: 'varchar', length: 16 }, says: { type: 'varchar', length: 1000 }, createdAt: created },
});

export const SettingEntity = new EntitySchema<Setting>({
  name: 'settings',
  columns: { name: { type: 'varchar', length: 64, primary: true }, value: json },
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
  UpkeepEntity,
  SettingEntity,
];
