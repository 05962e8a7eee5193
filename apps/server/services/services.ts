import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Logger } from 'pino';
import type { DataSource } from 'typeorm';
import type { WorkerPool } from '../workers/worker-pool';
import type { Database } from '../system/mariadb';
import type { MemorySemaphore } from '../sync/memory-semaphore';
import type { DeletionLock } from '../sync/deletion-lock';
import type { JobQueue } from '../queue/job-queue';
import type { IntegrityCheckMemo } from '../sync/integrity-check-memo';
import type { KeyedMutex } from '../sync/keyed-mutex';

/** Everything that requests and jobs share. */
export interface Services {
  readonly data: DataSource;
  /** Where the database listens, for its own programs. */
  readonly database: Pick<Database, 'socketPath' | 'schema' | 'user'>;
  readonly pool: WorkerPool;
  readonly jobs: JobQueue;
  readonly log: Logger;
  /** Folder of all data. */
  readonly root: string;
  /** Whether people give a password first. */
  readonly hasPassword: boolean;
  /** Why measurements failed, by key, in this run of the server. */
  readonly unmeasurable: Map<string, string>;
  /** Names of covers that cannot be made, as of a recipe whose fit finds nothing to fit. */
  readonly unrenderableCovers: Set<string>;
  /** Why palettes and earlier states cannot be woven: by the name of the picture that each would have, by the id of the state. */
  readonly renderErrors: Map<string, string>;
  /** One at a time for each file: what one takes away another must not be about to use. */
  readonly fileMutex: KeyedMutex;
  /** Memory that imports and renders share. */
  readonly memorySemaphore: MemorySemaphore;
  /** While a backup is under way no file goes, since the copy of the rows may speak of it. */
  readonly deletionLock: DeletionLock;
  /** Pixels that have been seen to be whole in this run, or are being looked at, see `../storage/integrity`. */
  readonly integrityChecks: IntegrityCheckMemo;
}

/** Makes the folders that hold files, and clears what an earlier run left half. */
export async function prepareFolders(root: string): Promise<void> {
  for (const name of [
    'stacks',
    'pixels',
    'exports',
    'inbox',
    'covers',
    'sheets',
    'swatches',
    'past',
    'archives',
    'restoring',
  ])
    await mkdir(join(root, name), { recursive: true });
  for (const name of await readdir(join(root, 'pixels'))) {
    if (name.startsWith('.')) await rm(join(root, 'pixels', name), { recursive: true, force: true });
  }
  await rm(join(root, 'incoming'), { recursive: true, force: true });
  await mkdir(join(root, 'incoming'), { recursive: true });
}
