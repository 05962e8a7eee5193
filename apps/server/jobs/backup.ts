import { runBackup } from '../backup/backup';
import { formatBytes } from '../system/disk-space';
import type { JobHandler } from '../queue/job-work';
import { logMaintenance } from '../storage/maintenance-log';
import { saveSchedule, scheduleOf } from '../backup/backup-schedule';
import type { Services } from '../services/services';

/** Keeps everything in a folder, and writes down that it did, or why it could not. */
export const backupJob =
  (services: Services): JobHandler<'backup'> =>
  async ({ payload: { dir }, signal, progress }) => {
    // One at a time: what one has not finished the other would take for left over.
    const report = await services.fileMutex.runExclusive('backups', () =>
      // What the rows of the copy speak of must still be there when its turn comes.
      services.deletionLock.withoutDeletions(() => runBackup(services, dir, { signal, progress })),
    );
    const { copied, bytes, files } = report;
    await logMaintenance(
      services,
      'backup',
      `Backed up to ${dir}: ${files} files, ${copied} of them new (${formatBytes(bytes)}).`,
    );
    const schedule = await scheduleOf(services);
    // Where backups are made by hand alone, the page offers the folder that was used last.
    if (schedule.dir === dir || schedule.every === 'never')
      await saveSchedule(services, { ...schedule, dir, last: new Date().toISOString() });
    return report;
  };
