import { many } from '@owl-loom/base/join-words';
import { millisecondsInHour as HOUR, millisecondsInMinute as MINUTE } from 'date-fns/constants';
import { formatBytes } from '../system/disk-space';
import { backUpWhereDue } from '../backup/backup-due';
import { forgetNotes, logMaintenance } from '../storage/maintenance-log';
import type { Services } from '../services/services';
import { type Swept, deleteOrphans } from './delete-orphans';
import { TRASH_DAYS, purgeExpired } from './trash';

/** Whoever starts wants to work first. */
const SOON = 3 * MINUTE;

function sentenceFor({ files, bytes, jobs }: Swept): string | undefined {
  const parts = [
    files > 0 && `unreferenced files (${files}, ${formatBytes(bytes)})`,
    jobs > 0 && `old jobs (${jobs})`,
  ].filter((part) => typeof part === 'string');
  return parts.length > 0 ? `Cleaned up: ${parts.join('; ')}.` : undefined;
}

/** What is done now and then by itself: old trash goes, and what no row speaks of; a backup that is due begins. */
export async function runMaintenance(services: Services, { quiet = false } = {}): Promise<void> {
  const gone = await purgeExpired(services);
  if (gone > 0)
    await logMaintenance(services, 'swept', `Deleted from trash after ${TRASH_DAYS} days: ${many(gone, 'item')}.`);
  const says = sentenceFor(await deleteOrphans(services, { quiet }));
  if (says) await logMaintenance(services, 'swept', says);
  await forgetNotes(services);
  if (!quiet) await backUpWhereDue(services);
}

/**
 * Sees to maintenance soon after the start, and then every hour.
 * @returns ends it, once what is under way has ended
 */
export function scheduleMaintenance(services: Services): () => Promise<void> {
  let going = Promise.resolve();
  const see = (): void => {
    going = going
      .then(() => runMaintenance(services))
      .catch((error: unknown) =>
        services.log.warn(error, 'the upkeep could not be done; it is tried again in an hour'),
      );
  };
  const soon = setTimeout(see, SOON);
  const hourly = setInterval(see, HOUR);
  return () => {
    clearTimeout(soon);
    clearInterval(hourly);
    return going;
  };
}
