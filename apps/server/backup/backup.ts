import { constants, existsSync } from 'node:fs';
import { copyFile, lstat, mkdir, readFile, realpath, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { BackedUp } from '@owl-loom/api/jobs';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import { writeAtomically } from '../system/write-atomically';
import type { Services } from '../services/services';
import { WalkBudget, namesIn } from '../system/listing';
import { freeBytes, formatBytes } from '../system/disk-space';
import { VERSION } from '../system/version';
import { dumpDatabase } from '../storage/db/dump';
import { checkPlace, within } from './place';
import {
  BACKUP_FORMAT,
  BACKUP_VERSION,
  type BackupRun,
  IMMUTABLE_FOLDERS,
  MARK,
  MAX_RUNS,
  markSchema,
  runSchema,
} from './layout';

/**
 * Sees that a folder can take backups: away from the data, ours or empty, and writable.
 * @throws UserError with what to do
 */
export async function prepareBackup(root: string, dir: string): Promise<string> {
  const [place, data] = [await checkPlace(dir), await realpath(root)];
  if (within(data, place) || within(place, data))
    throw new UserError(
      'bad-folder',
      `${dir} must not be inside the data folder ${root}, or contain it. Choose a folder on another disk.`,
    );
  try {
    await mkdir(place, { recursive: true });
    const names = await namesIn(place);
    const mark = join(place, MARK);
    if (names.length > 0 && !existsSync(mark))
      throw new UserError(
        'bad-folder',
        `${dir} has other files in it. Choose an empty folder, or one of earlier backups.`,
      );
    if (!existsSync(mark))
      await writeFile(mark, `${JSON.stringify({ format: BACKUP_FORMAT, version: BACKUP_VERSION })}\n`);
    const found = markSchema.safeParse(parseJsonOrUndefined(await readFile(mark, 'utf8'))).data;
    if (!found) throw new UserError('bad-folder', `${mark} is damaged; choose another folder for backups.`);
    if (found.version > BACKUP_VERSION)
      throw new UserError('newer-backup', `${dir} has backups of a newer Owl Loom. Choose another folder.`);
    for (const name of ['database', 'runs', ...IMMUTABLE_FOLDERS.map((folder) => `files/${folder}`)])
      await mkdir(join(place, name), { recursive: true });
    return place;
  } catch (error) {
    if (error instanceof UserError) throw error;
    const code = errorCodeOf(error);
    throw new UserError('bad-folder', `${dir} cannot be written (${code}); choose another folder for backups.`);
  }
}

/** Files that are there to be kept, by their path under the data folder. */
async function keptFiles(root: string, budget: WalkBudget): Promise<{ path: string; bytes: number }[]> {
  const files: { path: string; bytes: number }[] = [];
  for (const folder of IMMUTABLE_FOLDERS)
    for (const name of await namesIn(join(root, folder), budget)) {
      if (name.startsWith('.') || name.endsWith('.part')) continue;
      const found = await stat(join(root, folder, name)).catch(() => undefined);
      if (found?.isFile()) files.push({ path: `${folder}/${name}`, bytes: found.size });
    }
  return files;
}

async function isThere(path: string, bytes: number): Promise<boolean> {
  return (await stat(path).catch(() => undefined))?.size === bytes;
}

/** @throws UserError where the disk of the backup has no room for what is still to be copied */
async function needRoomIn(place: string, bytes: number): Promise<void> {
  const free = await freeBytes(place);
  if (bytes > free)
    throw new UserError(
      'backup-full',
      `The backup needs ${formatBytes(bytes)} more, and ${formatBytes(free)} are free on the disk of ${place}; free some space there, or choose another.`,
    );
}

/**
 * Keeps everything in a folder while Owl Loom goes on: the database as it is at one moment, and every file that it speaks of. Files never
 * change under their names, so each is copied once.
 * @throws UserError where the folder cannot take it
 */
export async function runBackup(
  services: Services,
  dir: string,
  { signal, progress }: { signal: AbortSignal; progress: (share: number) => void },
): Promise<BackedUp> {
  const place = await prepareBackup(services.root, dir);
  const stamp = new Date().toISOString().replaceAll(/[:.]/g, '-');
  try {
    const dump = join(place, 'database', `${stamp}.sql.gz`);
    await dumpDatabase(services.database, `${dump}.part`, signal);
    await rename(`${dump}.part`, dump);
    const files = await keptFiles(services.root, new WalkBudget(signal));
    const lacking: typeof files = [];
    for (const file of files) {
      signal.throwIfAborted();
      if (!(await isThere(join(place, 'files', file.path), file.bytes))) lacking.push(file);
    }
    const bytes = lacking.reduce((sum, file) => sum + file.bytes, 0);
    await needRoomIn(place, bytes);
    let done = 0;
    for (const file of lacking) {
      signal.throwIfAborted();
      const to = join(place, 'files', file.path);
      await copyFile(join(services.root, file.path), `${to}.part`, constants.COPYFILE_FICLONE);
      await rename(`${to}.part`, to);
      done += file.bytes;
      progress(done / bytes);
    }
    const run: BackupRun = {
      made: new Date().toISOString(),
      by: VERSION,
      database: { name: `${stamp}.sql.gz`, sha256: await services.pool.hash(dump) },
      files,
    };
    // Only now is there a run: one that broke off leaves files for the next, and no word of itself.
    await writeAtomically(join(place, 'runs', `${stamp}.json`), [Buffer.from(`${JSON.stringify(run)}\n`)]);
    await pruneRuns(place, signal);
    return { dir: place, files: files.length, copied: lacking.length, bytes };
  } catch (error) {
    const code = errorCodeOf(error);
    if (code === 'ENOSPC' || code === 'EDQUOT')
      throw new UserError(
        'backup-full',
        `The disk of ${place} is full, so this backup was not finished; free some space there.`,
      );
    throw error;
  }
}

/** Runs of a folder that are looked at: what lies there may have been put there by anyone. */
const MAX_RUNS_READ = 200;
/** Bytes that the list of a run may have: that of a hundred thousand files has ten million. */
const MAX_RUN_BYTES = 64 * 2 ** 20;

async function runIn(path: string): Promise<BackupRun | undefined> {
  const stats = await lstat(path);
  if (!stats.isFile() || stats.size > MAX_RUN_BYTES) return undefined;
  return runSchema.safeParse(parseJsonOrUndefined(await readFile(path, 'utf8'))).data;
}

const runNames = async (place: string, signal?: AbortSignal): Promise<string[]> =>
  (await namesIn(join(place, 'runs'), new WalkBudget(signal))).sort().reverse();

/** The newest runs of a folder, newest first; what cannot be read is none. */
export async function runsOf(place: string, signal?: AbortSignal): Promise<BackupRun[]> {
  const runs: BackupRun[] = [];
  for (const name of (await runNames(place, signal)).slice(0, MAX_RUNS_READ)) {
    signal?.throwIfAborted();
    const found = await runIn(join(place, 'runs', name));
    if (found) runs.push(found);
  }
  return runs;
}

/** Lets go of old runs, and of what only they spoke of. */
async function pruneRuns(place: string, signal: AbortSignal): Promise<void> {
  for (const name of (await runNames(place, signal)).slice(MAX_RUNS)) await rm(join(place, 'runs', name));
  const kept = await runsOf(place, signal);
  const spokenOf = new Set(kept.flatMap(({ files }) => files.map(({ path }) => path)));
  const budget = new WalkBudget(signal);
  for (const folder of IMMUTABLE_FOLDERS)
    for (const name of await namesIn(join(place, 'files', folder), budget))
      if (!spokenOf.has(`${folder}/${name}`)) await rm(join(place, 'files', folder, name));
  const dumps = new Set(kept.map(({ database }) => database.name));
  for (const name of await namesIn(join(place, 'database'), budget))
    if (!dumps.has(name)) await rm(join(place, 'database', name));
}
