import { rm } from 'node:fs/promises';
import { UserError } from '@owl-loom/base/errors';
import { packTarget } from '../archive/pack';
import { unpackTarget } from '../archive/unpack';
import type { JobHandler } from '../queue/job-work';
import type { Services } from '../services/services';
import { archiveFile, incomingFile } from '../archive/archive-files';

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
