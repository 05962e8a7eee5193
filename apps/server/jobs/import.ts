import { randomUUID } from 'node:crypto';
import { UserError } from '@owl-loom/base/errors';
import { guessExposure, guessFilter, guessWavelength } from '@owl-loom/image/metadata/filter';
import { StackEntity } from '../storage/db/entities';
import { translateSystemError } from '../system/system-errors';
import type { JobHandler } from '../queue/job-work';
import { truncate, insertUnderUniqueName } from '../stacks/unique-names';
import { stackMetricsOf, snapshotRecipes, recordReplacement } from './replacement';
import { deleteUnreferenced } from '../services/stacks';
import type { Services } from '../services/services';
import { ingest } from '../stacks/ingest';
import { KeyedMutex } from '../sync/keyed-mutex';
import { insertRow, updateRow } from '../storage/db/write-rows';

/** Letters of a filter's name, and of the part of a stack's name that comes from it, at most. */
const LONGEST = { filter: 64, name: 48 } as const;

/**
 * Sees that a file that cannot become a stack leaves nothing behind. One whose import was put down stays, since that is taken up again.
 */
const cleanly =
  (services: Services, work: JobHandler<'import'>): JobHandler<'import'> =>
  async (run) => {
    try {
      return await work(run);
    } catch (error) {
      // The job is taken up again where the server stops or the database is away, and needs its file then.
      const over = run.signal.aborted
        ? run.signal.reason instanceof UserError
        : translateSystemError(error)?.code !== 'database-gone';
      if (over) await deleteUnreferenced(services, { divisor: 1, edgesBlank: false, ...run.payload }, run.job.id);
      throw error;
    }
  };

/** Brings a file that has arrived whole into a target: reads it, measures it, writes its pyramid, then adds its row or renews that of another. */
export const importJob = (services: Services): JobHandler<'import'> => {
  const turns = new KeyedMutex();
  const work: JobHandler<'import'> = async ({ job, payload, targetId, signal, progress }) => {
    const { hash, fileName, into } = payload;
    const table = services.data.getRepository(StackEntity);
    const already = await table.findOneBy({ targetId: targetId, hash });
    if (already && into === undefined) return { stackId: already.id, again: true };
    const before = into === undefined ? null : await table.findOneBy({ id: into });
    if (into !== undefined && !before)
      throw new UserError(
        'no-stack',
        `The stack that ${fileName} replaces was deleted. Import the file as a new stack.`,
      );

    const as = before ? (before.domain === 'stretched' ? 'stretched' : 'linear') : undefined;
    const { image, domain, row } = await ingest(services, payload, as, { signal, progress });
    const exposure = guessExposure(image.cards, fileName) ?? null;
    if (before) {
      // The same file taken in another way is no newer one: what it shows is mended, and nobody asks for what it was.
      const kept =
        before.hash === hash
          ? undefined
          : await snapshotRecipes(services, before, { signal, progress: () => undefined });
      // Name, filter and whether it is linear are what people know of the stack, whichever file it is; recipes go by its name.
      await updateRow(table, before.id, {
        ...row,
        ...(before.hash !== hash && { exposure: exposure ?? before.exposure }),
      });
      if (kept) {
        const { width, height, figures } = row;
        await recordReplacement(
          services,
          before,
          stackMetricsOf({ width, height, figures, exposure: exposure ?? before.exposure }),
          kept,
        );
      }
      await deleteUnreferenced(services, before, job.id);
      return { stackId: before.id };
    }
    const guessedFilter = guessFilter(image.cards, fileName, row.planes);
    const filter = guessedFilter === undefined ? null : truncate(guessedFilter, LONGEST.filter);
    const stem = fileName.replace(/\.(fits?|fts|fz|gz|tiff?|png)(\.gz)?$/i, '');
    const id = randomUUID();
    const known = {
      id,
      targetId,
      domain,
      filter,
      wavelength: guessWavelength(filter ?? undefined) ?? null,
      exposure,
    };
    await insertUnderUniqueName(services, targetId, truncate(filter ?? stem, LONGEST.name), (name) =>
      insertRow(table, { ...row, ...known, name }),
    );
    return {
      stackId: id,
      ...(guessedFilter !== undefined &&
        guessedFilter !== filter && {
          notice: `The filter of ${fileName} has a very long name; it is kept as ${filter}.`,
        }),
    };
  };
  // The same file dropped twice at once is one stack: the second finds what the first has made.
  return cleanly(services, (run) => turns.runExclusive(`${run.targetId} ${run.payload.hash}`, () => work(run)));
};
