import { constants } from 'node:fs';
import { copyFile, mkdir, readdir, stat } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { createConnection } from 'mysql2/promise';
import pino from 'pino';
import { UserError } from '@owl-loom/base/errors';
import { runsOf } from '../backup/backup';
import type { BackedUp } from '@owl-loom/api/jobs';
import { loadDump } from '../storage/db/dump';
import { IMMUTABLE_FOLDERS, MARK } from '../backup/layout';
import { hash } from '../pixels/import-tasks';
import { dataDir } from '../system/home';
import { type SupervisedDatabase, superviseDatabase } from '../system/database-supervisor';
import { lockFolder } from '../system/lock';
import { ensurePrograms } from '../system/packages';
import { closeFolder, keepPrivate } from '../system/private-files';
import { requireDiskSpace } from '../system/disk-space';
import { withRunningServer, progressPrinter } from './with-server';
import { printJson } from './options';
import { SERVER_PROGRAMS } from './programs';

/** Backs everything up into a folder, or allows the page to do so there. */
export async function run(dir: string, { allow = false }: { allow?: boolean } = {}): Promise<void> {
  if (allow) {
    await withRunningServer((client) => client.post('/backups/places', { dir: resolve(dir) }));
    process.stderr.write(`Backups may go to ${resolve(dir)} now, also by the page Health.\n`);
    return;
  }
  printJson(
    await withRunningServer(async (client) => {
      const { job } = await client.post<{ job: string }>('/backups', { dir: resolve(dir) });
      return client.follow<BackedUp>(job, progressPrinter());
    }),
  );
}

/** @throws UserError where something is in the data folder already */
async function needEmpty(root: string): Promise<void> {
  const names = await readdir(root).catch(() => []);
  if (names.some((name) => !name.startsWith('.')))
    throw new UserError(
      'not-empty',
      `${root} already has data, and a backup is restored as a whole. Set LOOM_DATA to an empty folder.`,
    );
}

/** Jobs that were under way when the copy was made, that very backup among them, are of another time; what came in is taken up. */
async function endJobs({ socketPath, schema, user }: SupervisedDatabase['at']): Promise<void> {
  const connection = await createConnection({ socketPath, user, database: schema });
  await connection.query("DELETE FROM jobs WHERE state IN ('queued', 'running') AND kind <> 'import'");
  await connection.end();
}

/**
 * Brings everything back from the newest run of a backup, into an empty data folder.
 * @throws UserError where it is no backup, is damaged, or the folder is not empty
 */
export async function bringBack(dir: string): Promise<void> {
  if (!(await stat(join(dir, MARK)).catch(() => undefined)))
    throw new UserError('not-backup', `${dir} is not a backup folder. Use one made by ./loom backup.`);
  const [newest] = await runsOf(dir);
  if (!newest) throw new UserError('not-backup', `${dir} has no finished backup.`);
  const root = dataDir();
  await needEmpty(root);
  ensurePrograms(SERVER_PROGRAMS, (line) => process.stderr.write(`${line}\n`));
  const dump = join(dir, 'database', newest.database.name);
  if (hash({ path: dump }) !== newest.database.sha256)
    throw new UserError('damaged-backup', `The copy of the database, ${dump}, is damaged. Nothing was restored.`);
  keepPrivate();
  const unlock = await lockFolder(root);
  try {
    await closeFolder(root);
    const bytes = newest.files.reduce((sum, file) => sum + file.bytes, 0);
    await requireDiskSpace(root, bytes, 'This backup');
    for (const folder of IMMUTABLE_FOLDERS) await mkdir(join(root, folder), { recursive: true });
    const gone: string[] = [];
    for (const { path } of newest.files)
      await copyFile(join(dir, 'files', path), join(root, path), constants.COPYFILE_FICLONE).catch(() =>
        gone.push(path),
      );
    const database = await superviseDatabase(join(root, 'db'), pino({ level: 'silent' }));
    try {
      await loadDump(database.at, dump);
      await endJobs(database.at);
    } finally {
      await database.stop();
    }
    for (const path of gone) process.stderr.write(`${path} is not in the backup; ./loom verify says what it was.\n`);
    printJson({ data: root, made: newest.made, files: newest.files.length - gone.length, lacking: gone });
  } finally {
    await unlock();
  }
}
