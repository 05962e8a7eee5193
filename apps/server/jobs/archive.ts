import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '#base/errors';
import { packTarget } from '../archive/pack';
import { unpackTarget } from '../archive/unpack';
import type { JobHandler } from '../queue/job-work';
import type { Services } from '../services';

/** Archives that were made and wait to be fetched; they go when they are a day old. */
export const archivesDir = (root: string): string => join(root, 'archives');

/** The file of an archive, by the job that made it. */
export const archiveFile = (root: string, id: string): string => join(archivesDir(root), `${id}.zip`);

/** Where an archive lies that is being brought back. */
export const incomingFile = (root: string, id: string): string => join(root, 'restoring', id);

/** Packs a target into one file. */
export const archiveJob =
  (services: Services): JobHandler<'archive'> =>
  async ({ job, payload, targetId, signal, progress }) => {
    const to = archiveFile(services.root, job.id);
    const { name, bytes } = await packTarget(services, { targetId, to, ...payload }, { signal, progress });
    return { archive: job.id, fileName: `${name}.owlloom.zip`, bytes };
  };

/** Brings a target back from a file that came in. */
export const restoreJob =
  (services: Services): JobHandler<'restore'> =>
  async ({ payload: { incoming, fileName }, signal, progress }) => {
    const path = incomingFile(services.root, incoming);
    try {
      return await unpackTarget(services, path, fileName, { signal, progress });
    } finally {
      // One that was put down with the server is taken up again at the next start, and needs its file.
      if (!signal.aborted || signal.reason instanceof UserError) await rm(path, { force: true });
    }
  };
