import { existsSync } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { millisecondsInDay as DAY } from 'date-fns/constants';
import { In, LessThan } from 'typeorm';
import {
  ExportEntity,
  JobEntity,
  RecipeEntity,
  RevisionEntity,
  StackEntity,
  SwatchEntity,
  TargetEntity,
} from '../storage/db/entities';
import { PIXEL_ID } from '../render/pyramid';
import { sizeUnder } from '../system/folder-size';
import { archivesDir } from '../archive/archive-files';
import { coversDir } from '../thumbnails/cover';
import { isCachedImage } from '../storage/disk-image-cache';
import { pastDir } from '../thumbnails/revision';
import { sheetsDir } from '../thumbnails/contact-sheet';
import { importsUnderWay, pixelId } from '../services/stacks';
import { exportsDir } from '../services/export-files';
import type { Services } from '../services/services';
import { swatchesDir } from '../thumbnails/swatch';

/** What is younger may belong to work that has not yet entered its row. */
const YOUNG = DAY;
/** How long ended jobs are remembered, and how many at least. */
const JOBS = { age: 30 * DAY, least: 200 } as const;

/** What a sweep took away. */
export interface Swept {
  files: number;
  bytes: number;
  jobs: number;
}

/** What the rows speak of. What lies in the trash is among it. */
async function spokenOf({ data }: Services) {
  const ids = async (entity: typeof TargetEntity | typeof RecipeEntity | typeof ExportEntity): Promise<Set<string>> => {
    const rows = await data.getRepository<{ id: string }>(entity).find({ select: { id: true }, withDeleted: true });
    return new Set(rows.map(({ id }) => id));
  };
  const stacks = await data.getRepository(StackEntity).find({
    select: { id: true, hash: true, divisor: true, edgesBlank: true },
    withDeleted: true,
  });
  const swatches = await data
    .getRepository(SwatchEntity)
    .find({ select: { id: true, picture: true }, withDeleted: true });
  const revisions = await data.getRepository(RevisionEntity).find({ select: { id: true } });
  const coming = await importsUnderWay(data);
  const restores = await data.getRepository(JobEntity).findBy({ kind: 'restore', state: In(['queued', 'running']) });
  return {
    files: new Set([...stacks.map(({ hash }) => hash), ...coming.map(({ hash }) => hash)]),
    pixels: new Set(stacks.map((stack) => pixelId(stack))),
    restoring: new Set(restores.map(({ payload }) => (payload as { incoming?: string }).incoming)),
    targets: await ids(TargetEntity),
    recipes: await ids(RecipeEntity),
    exports: await ids(ExportEntity),
    swatches: new Set(swatches.map(({ id }) => id)),
    revisions: new Set(revisions.map(({ id }) => id)),
  };
}

/** The part of a file's name that names its row. */
const idOf = (name: string): string => name.split('.')[0];

/**
 * Takes away what no row speaks of: the process died before it was entered, the database was away, or a fault left it.
 * @param options.quiet nothing is under way, so that what is young goes as well
 */
export async function deleteOrphans(services: Services, { quiet = false, now = Date.now() } = {}): Promise<Swept> {
  const { root } = services;
  const swept: Swept = { files: 0, bytes: 0, jobs: await forgetJobs(services, now) };
  const spoken = await spokenOf(services);
  const clear = async (folder: string, stays: (name: string) => boolean, waits = !quiet): Promise<void> => {
    for (const name of await readdir(folder)) {
      const path = join(folder, name);
      if (!(name.endsWith('.part') || !stays(name)) || !existsSync(path)) continue;
      if (waits && now - (await stat(path)).mtimeMs < YOUNG) continue;
      const { files, bytes } = await sizeUnder(path);
      await rm(path, { recursive: true, force: true });
      swept.files += files;
      swept.bytes += bytes;
    }
  };
  await clear(join(root, 'stacks'), (name) => spoken.files.has(idOf(name)));
  await clear(
    join(root, 'pixels'),
    (name) => spoken.pixels.has(name) || (PIXEL_ID.test(name) && isCachedImage(root, name)),
  );
  await clear(exportsDir(root), (name) => spoken.exports.has(idOf(name)));
  await clear(swatchesDir(root), (name) => spoken.swatches.has(idOf(name)));
  await clear(coversDir(root), (name) => spoken.recipes.has(idOf(name)));
  await clear(sheetsDir(root), (name) => spoken.targets.has(idOf(name)));
  await clear(join(root, 'restoring'), (name) => spoken.restoring.has(name));
  // An archive waits to be fetched, whatever else goes on.
  await clear(archivesDir(root), () => false, true);
  await clear(pastDir(root), (name) => spoken.revisions.has(idOf(name)));
  return swept;
}

/** Forgets jobs that ended long ago. */
async function forgetJobs({ data }: Services, now: number): Promise<number> {
  const table = data.getRepository(JobEntity);
  const [edge] = await table.find({
    select: { id: true, updatedAt: true },
    order: { updatedAt: 'DESC' },
    skip: JOBS.least,
    take: 1,
  });
  if (!edge) return 0;
  const before = new Date(Math.min(now - JOBS.age, edge.updatedAt.getTime()));
  const { affected } = await table.delete({
    state: In(['done', 'failed', 'cancelled']),
    updatedAt: LessThan(before),
  });
  return affected ?? 0;
}
