import { type BackupSchedule, backupSchedule } from '@owl-loom/api/maintenance';
import { SettingEntity } from '../storage/db/entities';
import type { Services } from '../services/services';
import { upsertRow } from '../storage/db/write-rows';

const NAME = 'backup';

const NONE: BackupSchedule = { every: 'never', dir: '', last: null };

export async function scheduleOf({ data }: Services): Promise<BackupSchedule> {
  const row = await data.getRepository(SettingEntity).findOneBy({ name: NAME });
  return { ...NONE, ...backupSchedule.partial().parse(row?.value ?? {}) };
}

export async function saveSchedule({ data }: Services, value: BackupSchedule): Promise<void> {
  await upsertRow(data.getRepository(SettingEntity), { name: NAME, value }, ['name']);
}
