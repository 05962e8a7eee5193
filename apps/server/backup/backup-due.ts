import {
  millisecondsInDay as DAY,
  millisecondsInMinute as MINUTE,
  millisecondsInWeek as WEEK,
} from 'date-fns/constants';
import { scheduleOf } from './backup-schedule';
import type { BackupSchedule } from '@owl-loom/api/maintenance';
import type { Services } from '../services/services';

const SPAN: Record<Exclude<BackupSchedule['every'], 'never'>, number> = { day: DAY, week: WEEK };

/** A run that is due a little later than the one before began is still due: maintenance comes by once an hour. */
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
