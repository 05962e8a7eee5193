import { existsSync } from 'node:fs';
import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { type DataSource, In } from 'typeorm';
import { wcsOf } from '#image/fits/wcs';
import type { StackInfo } from '#engine/graph';
import { contentKey } from '#base/content-hash';
import { JobEntity, type Stack, StackEntity } from './storage/db/entities';
import type { WorkerPool } from './render/worker-pool';
import { pyramidDir } from './render/pyramid';
import type { Database } from './system/mariadb';
import type { OpenStack } from './render/stack';
import type { MemorySemaphore } from './sync/memory-semaphore';
import type { DeletionLock } from './sync/deletion-lock';
import type { JobQueue } from './queue/job-queue';
import type { IntegrityCheckMemo } from './sync/integrity-check-memo';
import type { KeyedMutex } from './sync/keyed-mutex';

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
  /** Pixels that have been seen to be whole in this run, or are being looked at, see `./wholeness`. */
  readonly integrityChecks: IntegrityCheckMemo;
}

/** What decides on a stack's pixels. */
export type PixelSpec = Pick<Stack, 'hash' | 'divisor'> & { readonly edgesBlank: boolean };

/** Name of a stack's pixels: the same file taken in the same way has the same. */
export const pixelId = ({ hash, divisor, edgesBlank }: PixelSpec): string =>
  contentKey(edgesBlank ? [hash, divisor, 'edges blank'] : [hash, divisor]);

/** File of an imported stack. */
export const stackFile = (root: string, hash: string): string => join(root, 'stacks', `${hash}.fits`);

export const exportsDir = (root: string): string => join(root, 'exports');

/** File of an export. */
export const exportFile = (root: string, id: string, format: string): string =>
  join(exportsDir(root), `${id}.${format}`);

/** The small picture that stands for an export in a list. */
export const previewFile = (root: string, id: string): string => join(exportsDir(root), `${id}.small.jpg`);

/** Takes away what an export has on disk. */
export const dropExport = (
  { root, deletionLock: hold }: Services,
  { id, format }: { id: string; format: string },
): Promise<void> =>
  hold.deleteWhenAllowed(async () => {
    await rm(exportFile(root, id, format), { force: true });
    await rm(previewFile(root, id), { force: true });
  });

/** A stored stack as the engine sees it. */
export function stackInfo(stack: Stack): StackInfo {
  return {
    id: pixelId(stack),
    width: stack.width,
    height: stack.height,
    planes: stack.planes === 3 ? 3 : 1,
    domain: stack.domain === 'stretched' ? 'stretched' : 'linear',
    exposure: stack.exposure ?? undefined,
    wcs: wcsOf(stack.cards, stack.height, Boolean(stack.topDown)),
  };
}

/** A target's stacks ready for rendering, by name. */
export async function openStacks(services: Services, targetId: string): Promise<Map<string, OpenStack>> {
  const rows = await services.data.getRepository(StackEntity).findBy({ targetId });
  return new Map(
    rows.map((row): [string, OpenStack] => {
      const info = stackInfo(row);
      return [
        row.name,
        {
          info,
          source: {
            kind: 'pyramid',
            dir: pyramidDir(services.root, info.id),
            width: row.width,
            height: row.height,
            planes: info.planes,
          },
          name: row.fileName,
          cards: row.cards,
          topDown: Boolean(row.topDown),
          type: row.type,
          filter: row.filter ?? undefined,
          divisor: row.divisor,
        },
      ];
    }),
  );
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

/** Imports that are under way or still to come, of a file where one is named. */
export async function importsUnderWay(data: DataSource): Promise<{ id: string; hash?: string }[]> {
  const jobs = await data.getRepository(JobEntity).findBy({ kind: 'import', state: In(['queued', 'running']) });
  return jobs.map(({ id, payload }) => ({ id, hash: (payload as { hash?: string }).hash }));
}

/**
 * Removes a stack's files where no target holds it any more, be it in the trash, and no import needs them.
 * @param except the import that has just ended
 */
export const deleteUnreferenced = (services: Services, stack: PixelSpec, except?: string): Promise<void> =>
  services.deletionLock.deleteWhenAllowed(() =>
    services.fileMutex.runExclusive(stack.hash, () => dropNow(services, stack, except)),
  );

async function dropNow(services: Services, stack: PixelSpec, except: string | undefined): Promise<void> {
  const left = await services.data.getRepository(StackEntity).find({ where: { hash: stack.hash }, withDeleted: true });
  const coming = await importsUnderWay(services.data);
  if (coming.some(({ id, hash }) => id !== except && hash === stack.hash)) return;
  const id = pixelId(stack);
  if (!left.some((other) => pixelId(other) === id)) {
    await rm(pyramidDir(services.root, id), { recursive: true, force: true });
  }
  if (left.length === 0) await rm(stackFile(services.root, stack.hash), { force: true });
}

/** Size of a file, 0 where there is none. */
export const sizeOf = async (path: string): Promise<number> => (existsSync(path) ? (await stat(path)).size : 0);
