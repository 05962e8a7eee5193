import { statfs } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { millisecondsInDay as DAY } from 'date-fns/constants';
import { In } from 'typeorm';
import type { ServerReply } from '@owl-loom/api/endpoints';
import type { DiskUse } from '@owl-loom/api/maintenance';
import { ExportEntity, JobEntity, StackEntity, SwatchEntity, TargetEntity } from '../storage/db/entities';
import { pyramidDir } from '../render/pyramid';
import { freeMemory, totalMemory } from '../system/memory';
import { WalkBudget, namesIn } from '../system/listing';
import { sizeUnder, sizeOf } from '../system/folder-size';
import { VERSION } from '../system/version';
import { isCachedImage } from '../storage/disk-image-cache';
import { notes } from '../storage/maintenance-log';
import { pixelId, stackFile } from '../services/stacks';
import { exportFile } from '../services/export-files';
import type { Services } from '../services/services';
import { swatchesDir } from '../thumbnails/swatch';

type ServerStatus = ServerReply<'GET /house'>;

const STARTED = new Date();

const bytesUnder = async (path: string, signal: AbortSignal): Promise<number> => (await sizeUnder(path, signal)).bytes;

const sum = (all: readonly number[]): number => all.reduce((total, one) => total + one, 0);

async function diskUse({ root }: Services, signal: AbortSignal): Promise<DiskUse> {
  const at = (name: string): Promise<number> => bytesUnder(join(root, name), signal);
  const pyramids = await namesIn(join(root, 'pixels'), new WalkBudget(signal));
  const made = new Set(pyramids.filter((name) => isCachedImage(root, name)));
  const of = (names: readonly string[]): Promise<number> =>
    Promise.all(names.map((name) => at(`pixels/${name}`))).then(sum);
  return {
    originals: await at('stacks'),
    pixels: await of(pyramids.filter((name) => !made.has(name))),
    images: await of([...made]),
    exports: await at('exports'),
    pictures: sum(await Promise.all(['swatches', 'covers', 'sheets', 'past'].map(at))),
    database: await at('db'),
    other: sum(await Promise.all([...['archives', 'restoring', 'incoming'].map(at), sizeOf(join(root, 'server.log'))])),
  };
}

/** What each target takes, the largest first; pixels that two share count for both. */
async function targetsUse(services: Services, signal: AbortSignal): Promise<ServerStatus['targets']> {
  const { data, root } = services;
  const targets = await data.getRepository(TargetEntity).find({ withDeleted: true });
  const usages = targets.map(async ({ id, name, deletedAt }) => {
    const own = { where: { targetId: id }, withDeleted: true };
    const stacks = await data.getRepository(StackEntity).find(own);
    const exports = await data.getRepository(ExportEntity).find(own);
    const swatches = await data.getRepository(SwatchEntity).find(own);
    const sizes = await Promise.all([
      ...stacks.map(({ hash }) => sizeOf(stackFile(root, hash))),
      ...stacks.map((row) => bytesUnder(pyramidDir(root, pixelId(row)), signal)),
      ...exports.map((row) => sizeOf(exportFile(root, row.id, row.format))),
      ...swatches.map(({ picture }) => (picture ? sizeOf(join(swatchesDir(root), picture)) : 0)),
    ]);
    return { id, name, trashed: deletedAt !== null, stacks: stacks.length, bytes: sum(sizes) };
  });
  return (await Promise.all(usages)).sort((a, b) => b.bytes - a.bytes);
}

async function queueOf({ data }: Services): Promise<ServerStatus['queue']> {
  const table = data.getRepository(JobEntity);
  const rows = await table.find({
    where: { state: In(['queued', 'running', 'failed']) },
    select: { id: true, state: true, updatedAt: true },
  });
  const count = (state: string): number => rows.filter((row) => row.state === state).length;
  const today = Date.now() - DAY;
  return {
    running: count('running'),
    waiting: count('queued'),
    failedToday: rows.filter((row) => row.state === 'failed' && row.updatedAt.getTime() > today).length,
  };
}

/**
 * Looks at the whole server.
 * @param signal stops it, where nobody waits for it any more
 */
export async function serverStatus(services: Services, signal: AbortSignal): Promise<ServerStatus> {
  const { data, root, pool } = services;
  const asked = performance.now();
  await data.query('SELECT 1');
  const milliseconds = performance.now() - asked;
  const { bavail, blocks, bsize } = await statfs(root);
  const targets = await targetsUse(services, signal);
  const lacking = (await data.getRepository(StackEntity).find()).filter((row) => row.lacking !== null);
  return {
    version: VERSION,
    since: STARTED.toISOString(),
    root,
    guarded: services.hasPassword,
    database: { milliseconds },
    queue: await queueOf(services),
    memory: {
      own: process.memoryUsage.rss(),
      kept: pool.images.evictableBytes + pool.images.spare.idle,
      free: freeMemory(),
      total: totalMemory(),
    },
    cores: availableParallelism(),
    disk: {
      free: Number(bavail) * Number(bsize),
      total: Number(blocks) * Number(bsize),
      by: await diskUse(services, signal),
    },
    targets,
    lacking: lacking.map(({ name, targetId }) => ({
      name,
      targetId,
      target: targets.find(({ id }) => id === targetId)?.name ?? '',
    })),
    notes: await notes(services),
  };
}
