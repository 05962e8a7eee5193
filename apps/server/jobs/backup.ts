import {
  millisecondsInDay as DAY,
  millisecondsInMinute as MINUTE,
  millisecondsInWeek as WEEK,
} from 'date-fns/constants';
import { runBackup } from '../backup/backup';
import { formatBytes } from '../system/disk-space';
import type { JobHandler } from '../queue/job-work';
import { logMaintenance } from '../maintenance/log';
import { saveSchedule, scheduleOf } from '../maintenance/backup-schedule';
import type { BackupSchedule } from '#api/maintenance';
import type { Services } from '../services';

/** Keeps everything in a folder, and writes down that it did, or why it could not. */
export const backupJob =
  (services: Services): JobHandler<'backup'> =>
  async ({ payload: { dir }, signal, progress }) => {
    // One at a time: what one has not finished the other would take for left over.
    const told = await services.fileMutex.runExclusive('backups', () =>
      // What the rows of the copy speak of must still be there when its turn comes.
      services.deletionLock.withoutDeletions(() => runBackup(services, dir, { signal, progress })),
    );
    const { copied, bytes, files } = told;
    await logMaintenance(
      services,
      'backup',
      `Backed up to ${dir}: ${files} files, ${copied} of them new (${formatBytes(bytes)}).`,
    );
    const schedule = await scheduleOf(services);
    // Where backups are made by hand alone, the page offers the folder that was used last.
    if (schedule.dir === dir || schedule.every === 'never')
      await saveSchedule(services, { ...schedule, dir, last: new Date().toISOString() });
    return told;
  };

const SPAN: Record<Exclude<BackupSchedule['every'], 'never'>, number> = { day: DAY, week: WEEK };
/** A run that is due a little later than the one before began is still due: upkeep comes by once an hour. */
const EARLY = 30 * MINUTE;

/** Begins a backup where one is due. */
export async function backUpWhereDue(services: Services, now = Date.now()): Promise<boolean> {
  const { every, dir, last } = await scheduleOf(services);
  if (every === 'never' || dir === '') return false;
  if (last !== null && now - Date.parse(last) < SPAN[every] - EARLY) return false;
  if (await services.jobs.isPending('backup', null, { dir })) return false;
  await services.jobs.add('backup', null, dir.slice(0, 255), { dir });
  return true;
}
