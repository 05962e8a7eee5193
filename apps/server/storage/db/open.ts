import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { UserError } from '@owl-loom/base/errors';
import { dumpDatabase } from './dump';
import type { Database } from '../../system/mariadb';
import { ENTITIES } from './entities';
import { MIGRATIONS } from './migrations';

type At = Pick<Database, 'socketPath' | 'schema' | 'user'>;

/** Copies of the database from before it was changed, at most. */
const COPIES = 3;

export interface OpenOptions {
  /** Folder in which a copy is kept before tables are changed. */
  readonly copies: string;
  /** Folder of all data, for sentences. */
  readonly root: string;
}

/**
 * Connects and brings the tables up to date. The schema is changed by migrations alone, and a copy is kept of what was before.
 * @throws UserError where the data are of a newer Owl Loom
 */
export async function openData(at: At, { copies, root }: OpenOptions): Promise<DataSource> {
  const source = new DataSource({
    type: 'mariadb',
    socketPath: at.socketPath,
    username: at.user,
    database: at.schema,
    entities: ENTITIES,
    migrations: MIGRATIONS,
    synchronize: false,
    charset: 'utf8mb4',
    timezone: 'Z',
    extra: { connectTimeout: 4000 },
  });
  await source.initialize();
  try {
    const done = await migrationsDone(source);
    const known = new Set(source.migrations.map(({ name }) => name));
    if (done.some((name) => !known.has(name)))
      throw new UserError(
        'newer-data',
        `The data in ${root} were made by a newer Owl Loom than this one; start that one, or choose another folder with LOOM_DATA.`,
      );
    if (done.length > 0 && done.length < known.size) await copyOf(at, copies, done.length);
    await source.runMigrations();
    return source;
  } catch (error) {
    await source.destroy();
    throw error;
  }
}

/** Names of the migrations that have been run; none where the tables are still to be made. */
async function migrationsDone(source: DataSource): Promise<string[]> {
  const tables: unknown[] = await source.query("SHOW TABLES LIKE 'migrations'");
  if (tables.length === 0) return [];
  const rows: { name: string }[] = await source.query('SELECT name FROM migrations');
  return rows.map(({ name }) => name);
}

/** Writes the database as SQL, gzipped, named by how many migrations it has seen, and lets go of the oldest such copies. */
async function copyOf(at: At, folder: string, migrations: number): Promise<void> {
  await mkdir(folder, { recursive: true });
  const stamp = new Date().toISOString().replaceAll(/[:.]/g, '-');
  await dumpDatabase(at, join(folder, `before-${migrations}-${stamp}.sql.gz`)).catch(() => {
    throw new UserError(
      'no-copy',
      `The database could not be copied to ${folder} before it is brought up to date; see that the disk has room, and start again.`,
    );
  });
  const kept = (await readdir(folder)).filter((name) => /^before-\d+-.*\.sql(\.gz)?$/.test(name));
  const byAge = kept.sort((a, b) => b.replace(/^before-\d+-/, '').localeCompare(a.replace(/^before-\d+-/, '')));
  for (const name of byAge.slice(COPIES)) await rm(join(folder, name), { force: true });
}
