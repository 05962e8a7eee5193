import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type EntityManager, In } from 'typeorm';
import type { Unpacked } from '@owl-loom/api/jobs';
import { UserError } from '@owl-loom/base/errors';
import {
  PaletteEntity,
  PatternEntity,
  RecipeEntity,
  RevisionEntity,
  type Stack,
  StackEntity,
  SwatchEntity,
  TargetEntity,
} from '../storage/db/entities';
import { writeAtomically } from '../system/write-atomically';
import { setFileState } from '../storage/original-file';
import { uniqueName } from '../stacks/unique-names';
import { stackFile } from '../services/stacks';
import type { Services } from '../services/services';
import { swatchesDir, requestSwatchPicture } from '../thumbnails/swatch';
import { recheck } from '../storage/integrity';
import { requireDiskSpace, pyramidBytes } from '../system/disk-space';
import {
  type ArchivedTemplate,
  type ArchivedRecipe,
  type ArchivedStack,
  type Manifest,
  filesOf,
} from '../archive-file/manifest';
import { type OpenArchive, openArchive } from '../archive-file/open';
import { insertRow } from '../storage/db/write-rows';

type Counts = { -readonly [K in Exclude<keyof Unpacked, 'targetId' | 'name' | 'notes'>]: number };

/** Everything of an archive, read and compared with its hashes before anything is kept: originals lie beside, the rest is in memory. */
interface Staged {
  readonly folder: string;
  readonly json: ReadonlyMap<string, unknown>;
  readonly pictures: ReadonlyMap<string, Buffer>;
  /** Paths of the originals by hash. */
  readonly originals: ReadonlyMap<string, string>;
}

async function stage(
  services: Services,
  archive: OpenArchive,
  signal: AbortSignal,
  progress: (share: number) => void,
): Promise<Staged> {
  const { manifest } = archive;
  const folder = join(services.root, 'incoming', randomUUID());
  await mkdir(folder, { recursive: true });
  const json = new Map<string, unknown>();
  const pictures = new Map<string, Buffer>();
  const originals = new Map<string, string>();
  try {
    const sized = manifest.stacks.flatMap(({ original }) => original ?? []);
    const small = filesOf(manifest).filter(({ entry }) => entry.endsWith('.json'));
    for (const file of small) {
      signal.throwIfAborted();
      json.set(file.entry, await archive.json(file));
    }
    for (const { id, picture } of manifest.swatches) if (picture) pictures.set(id, await archive.bytes(picture));
    const total = sized.reduce((sum, { bytes }) => sum + bytes, 0);
    let done = 0;
    for (const { hash, original } of manifest.stacks) {
      if (!original || originals.has(hash)) continue;
      if (original.sha256 !== hash)
        throw new UserError('bad-archive', 'An original of this archive is not the one that its stack was made of.');
      const path = join(folder, hash);
      await archive.extract(original, path, signal);
      originals.set(hash, path);
      done += original.bytes;
      progress(done / total);
    }
    return { folder, json, pictures, originals };
  } catch (error) {
    await rm(folder, { recursive: true, force: true });
    throw error;
  }
}

/** Brings what is in an archive into the tables, as far as it is not there: what is there stays as it is. */
class Merge {
  readonly counts: Counts = { stacks: 0, recipes: 0, states: 0, swatches: 0, palettes: 0, patterns: 0 };
  readonly notes: string[] = [];
  readonly newSwatches: string[] = [];

  constructor(
    private readonly manager: EntityManager,
    private readonly manifest: Manifest,
    private readonly staged: Staged,
  ) {}

  async all(): Promise<void> {
    const { target, stacks, recipes, palettes, patterns } = this.manifest;
    const table = this.manager.getRepository(TargetEntity);
    const there = await table.findOne({ where: { id: target.id }, withDeleted: true });
    if (!there) await table.insert({ ...target, createdAt: new Date(target.createdAt) });
    else if (there.deletedAt) await table.restore(target.id);
    for (const stack of stacks) await this.stack(stack);
    for (const recipe of recipes) await this.recipe(recipe);
    await this.swatches();
    await this.kept(palettes, 'palettes');
    await this.kept(patterns, 'patterns');
  }

  private async stack({ original: _, redactedFrom, createdAt, ...stack }: ArchivedStack): Promise<void> {
    const targetId = this.manifest.target.id;
    const table = this.manager.getRepository(StackEntity);
    const same = await table.findOneBy({ targetId, hash: In([stack.hash, redactedFrom ?? stack.hash]) });
    if (same) {
      if (same.name !== stack.name)
        this.notes.push(
          `The file of ${stack.name} is here as ${same.name}; recipes of the archive call it ${stack.name}.`,
        );
      return;
    }
    const taken = (await table.find({ where: { targetId }, select: { name: true } })).map(({ name }) => name);
    const name = uniqueName(taken, stack.name);
    if (name !== stack.name)
      this.notes.push(`Another stack is called ${stack.name} here, so that of the archive is ${name}.`);
    const old = await table.findOne({ where: { id: stack.id }, withDeleted: true });
    if (old?.deletedAt && old.targetId === targetId && old.hash === stack.hash) {
      await table.update({ id: old.id }, { name });
      await table.restore(old.id);
    } else
      await insertRow(table, {
        ...stack,
        // A row of another target may have that id: then this one has its own.
        id: old ? randomUUID() : stack.id,
        name,
        targetId,
        bytes: String(stack.bytes),
        createdAt: new Date(createdAt),
        lacking: null,
      });
    this.counts.stacks++;
  }

  private async recipe({ states, createdAt, ...recipe }: ArchivedRecipe): Promise<void> {
    const targetId = this.manifest.target.id;
    const table = this.manager.getRepository(RecipeEntity);
    const revisions = this.manager.getRepository(RevisionEntity);
    const there = await table.findOne({ where: { id: recipe.id }, withDeleted: true });
    if (there && there.targetId !== targetId)
      throw new UserError('bad-archive', `The recipe ${recipe.name} belongs to another target here.`);
    if (!there) {
      await table.insert({ ...recipe, targetId, createdAt: new Date(createdAt) });
      this.counts.recipes++;
    } else if (there.deletedAt) {
      await table.restore(recipe.id);
      this.counts.recipes++;
    }
    const known = await revisions.find({ where: { recipeId: recipe.id }, select: { id: true, number: true } });
    const ids = new Set(known.map(({ id }) => id));
    const numbers = new Set(known.map(({ number }) => number));
    for (const { recipe: file, createdAt: at, ...state } of states) {
      if (ids.has(state.id)) continue;
      // Its recipe went on here in another way: the state is kept beside, among the earlier ones.
      const beside =
        there !== null && (state.number === null || numbers.has(state.number) || state.number > there.revision);
      await insertRow(revisions, {
        ...state,
        ...(beside && { number: null, conflict: true }),
        recipeId: recipe.id,
        body: this.staged.json.get(file.entry),
        createdAt: new Date(at),
      });
      this.counts.states++;
    }
  }

  private async swatches(): Promise<void> {
    const targetId = this.manifest.target.id;
    const table = this.manager.getRepository(SwatchEntity);
    for (const { recipe: file, picture, createdAt, ...swatch } of this.manifest.swatches) {
      const old = await table.findOne({ where: { id: swatch.id }, withDeleted: true });
      if (old) {
        if (!old.deletedAt || old.targetId !== targetId) continue;
        await table.restore(old.id);
      } else {
        await insertRow(table, {
          ...swatch,
          targetId,
          body: this.staged.json.get(file.entry),
          picture: picture?.called ?? null,
          trouble: null,
          createdAt: new Date(createdAt),
        });
        this.newSwatches.push(swatch.id);
      }
      this.counts.swatches++;
    }
  }

  private async kept(all: readonly ArchivedTemplate[], kind: 'palettes' | 'patterns'): Promise<void> {
    const table = this.manager.getRepository<{
      id: string;
      name: string;
      says: string;
      body: unknown;
      createdAt: Date;
    }>(kind === 'palettes' ? PaletteEntity : (PatternEntity as never));
    for (const { body: file, createdAt, ...one } of all) {
      const body = this.staged.json.get(file.entry);
      const rows = await table.find();
      if (rows.some((row) => row.id === one.id || JSON.stringify(row.body) === JSON.stringify(body))) continue;
      const name = uniqueName(
        rows.map((row) => row.name),
        one.name,
      );
      await insertRow(table, { ...one, name, body, createdAt: new Date(createdAt) });
      this.counts[kind]++;
    }
  }
}

/** Puts files where the rows that were entered look for them. */
async function place(services: Services, { pictures, originals }: Staged, { manifest }: OpenArchive): Promise<void> {
  for (const { id, picture } of manifest.swatches) {
    const bytes = pictures.get(id);
    if (picture && bytes) await writeAtomically(join(swatchesDir(services.root), picture.called), [bytes]);
  }
  for (const [hash, path] of originals)
    await services.fileMutex.runExclusive(hash, async () => {
      await rename(path, stackFile(services.root, hash));
    });
}

/**
 * Brings a target back from an archive: all of it or nothing. What is there already stays as it is, so that doing it twice does no harm; a
 * recipe that went on here keeps its own newest state.
 * @param called name of the file, for sentences
 * @throws UserError where it is damaged, no archive, of a newer version, or there is no room
 */
export async function unpackTarget(
  services: Services,
  path: string,
  called: string,
  { signal, progress }: { signal: AbortSignal; progress: (share: number) => void },
): Promise<Unpacked> {
  const archive = await openArchive({ path, called }, (task) => services.pool.manifest(task));
  let staged: Staged | undefined;
  try {
    const { manifest } = archive;
    const room = manifest.stacks.reduce((sum, stack) => sum + (stack.original?.bytes ?? 0) + pyramidBytes(stack), 0);
    await requireDiskSpace(services.root, room, called);
    const all = await stage(services, archive, signal, (share) => progress(0.6 * share));
    staged = all;
    // Files first: a row without its file is a fault, a file without a row is swept.
    await place(services, all, archive);
    const merge = await services.data.transaction(async (manager) => {
      const made = new Merge(manager, manifest, all);
      await made.all();
      return made;
    });
    await scheduleFollowUps(services, manifest, merge, (share) => progress(0.6 + 0.4 * share));
    const { counts, notes } = merge;
    return { targetId: manifest.target.id, name: manifest.target.name, ...counts, notes };
  } finally {
    archive.close();
    if (staged) await rm(staged.folder, { recursive: true, force: true });
  }
}

/** What follows by itself: which files are lacking, pixels of those that are there, pictures that were not in it. */
async function scheduleFollowUps(
  services: Services,
  manifest: Manifest,
  merge: Merge,
  progress: (share: number) => void,
): Promise<void> {
  const rows = await services.data.getRepository(StackEntity).findBy({ targetId: manifest.target.id });
  const lack = (row: Stack): boolean => !existsSync(stackFile(services.root, row.hash));
  for (const row of rows) await setFileState(services, row.hash, lack(row) ? 'missing' : null);
  for (const [i, row] of rows.entries()) {
    if (!lack(row)) await recheck(services, row);
    progress((i + 1) / rows.length);
  }
  for (const id of merge.newSwatches) {
    const swatch = await services.data.getRepository(SwatchEntity).findOneByOrFail({ id });
    if (!swatch.picture) await requestSwatchPicture(services, swatch);
  }
}
