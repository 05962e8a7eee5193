import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { guessExposure, guessFilter } from '../../core/stack/filter';
import { type Stack, StackEntity } from '../db/entities';
import { openFile } from '../io/bytes';
import { openImage } from '../io/image-file';
import { writePyramid } from '../render/pyramid';
import { fillRaster, sharedRaster } from '../render/shared';
import { scaledRows } from '../render/sources';
import { divisorOf, guessDomain, typeName } from '../render/stack';
import type { JobHandler } from './jobs';
import { type Studio, dropUnused, pixelId, sizeOf, stackFile } from './studio';

export const importPayload = z.strictObject({ hash: z.string().regex(/^[0-9a-f]{64}$/), fileName: z.string().max(255) });

/** A name that no other stack of the target has. */
async function freeName(studio: Studio, targetId: string, wanted: string): Promise<string> {
  const taken = new Set((await studio.data.getRepository(StackEntity).findBy({ targetId })).map((stack) => stack.name));
  const base = wanted.slice(0, 48);
  if (!taken.has(base)) return base;
  for (let n = 2; ; n++) if (!taken.has(`${base}-${n}`)) return `${base}-${n}`;
}

/**
 * Sees that a file that cannot become a stack leaves nothing behind. One whose import was put down with the server stays: it is taken up
 * again at the next start.
 */
const cleanly =
  (studio: Studio, work: JobHandler): JobHandler =>
  async (run) => {
    try {
      return await work(run);
    } catch (fault) {
      if (!run.signal.aborted || run.signal.reason instanceof UserError) await dropUnused(studio, { ...importPayload.parse(run.job.payload), divisor: 1 });
      throw fault;
    }
  };

/** Brings a file that has arrived whole into a target: reads it, measures it, writes its pyramid, then adds its row. */
export const importJob = (studio: Studio): JobHandler =>
  cleanly(studio, async ({ job, signal, progress }) => {
    const { hash, fileName } = importPayload.parse(job.payload);
    const table = studio.data.getRepository(StackEntity);
    const already = await table.findOneBy({ targetId: job.targetId, hash });
    if (already) return { stackId: already.id, again: true };

    const path = stackFile(studio.root, hash);
    const file = await openFile(path, fileName);
    try {
      const image = await openImage(file);
      const { width, height, planes } = image;
      const divisor = await divisorOf(image);
      progress(0.1);
      const raster = await fillRaster(sharedRaster({ x: 0, y: 0, width, height }, planes), (p, y, rows) => scaledRows(image, divisor, p, y, rows), (share) => {
        signal.throwIfAborted();
        progress(0.1 + 0.3 * share);
      });
      const found = await Promise.all(raster.planes.map((plane) => studio.pool.summary({ plane, width, height, stars: true }, signal)));
      if (found.every(({ summary }) => summary.noData === 1)) {
        throw new UserError('all-no-data', `${fileName} holds no data at all: every pixel is blank; check how it was saved.`);
      }
      progress(0.7);
      await writePyramid(studio.pool, studio.root, pixelId({ hash, divisor }), raster.planes, width, height, signal);
      progress(0.95);
      const filter = guessFilter(image.cards, fileName) ?? null;
      const stem = fileName.replace(/\.(fits?|fts|fz|gz|tiff?|png)(\.gz)?$/i, '');
      const row: Omit<Stack, 'createdAt'> = {
        id: randomUUID(),
        targetId: job.targetId,
        name: await freeName(studio, job.targetId, filter ?? stem),
        fileName,
        hash,
        bytes: String(await sizeOf(path)),
        width,
        height,
        planes,
        type: typeName(image),
        divisor,
        domain: guessDomain(image),
        filter,
        exposure: guessExposure(image.cards) ?? null,
        topDown: image.topDown,
        cards: [...image.cards],
        figures: { planes: found.map((f) => f.summary), stars: found.map((f) => f.stars ?? { count: 0, fwhm: null }) },
      };
      await table.insert(row as never);
      return { stackId: row.id };
    } finally {
      await file.close();
    }
  });
