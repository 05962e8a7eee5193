import { StackEntity } from '../storage/db/entities';
import type { JobHandler } from '../queue/job-work';
import { logMaintenance } from '../storage/maintenance-log';
import type { Services } from '../services/services';
import { rebuildPyramid } from '../stacks/ingest';
import { missingFileError, lookAtFile } from '../storage/original-file';

/** Makes a stack's pixels anew from its file, once that has been seen to be what came in. */
export const repairJob =
  (services: Services): JobHandler<'mend'> =>
  async ({ payload: { stackId, why }, signal, progress }) => {
    const table = services.data.getRepository(StackEntity);
    const stack = await table.findOne({ where: { id: stackId }, withDeleted: true });
    if (!stack) return null;
    const { lacking, news } = await lookAtFile(services, stack);
    if (lacking) {
      const error = missingFileError({ ...stack, lacking });
      if (news) await logMaintenance(services, 'damaged', error.message);
      throw error;
    }
    await rebuildPyramid(services, stack, { signal, progress });
    await logMaintenance(services, 'mended', `Pixel data of ${stack.name} rebuilt from ${stack.fileName}: ${why}.`);
    return { stackId };
  };
