import { z } from 'zod';
import { SettingEntity } from '../storage/db/entities';
import type { Services } from '../services';

const NAME = 'backup';

/** When everything is backed up by itself, and where to. */
export const scheduleSchema = z.strictObject({
  every: z.enum(['never', 'day', 'week']).default('never'),
  dir: z.string().trim().max(1000).default(''),
  /** When that was last done. */
  last: z.iso.datetime().nullable().default(null),
});
export type BackupSchedule = z.output<typeof scheduleSchema>;

export async function scheduleOf({ data }: Services): Promise<BackupSchedule> {
  const row = await data.getRepository(SettingEntity).findOneBy({ name: NAME });
  return scheduleSchema.parse(row?.value ?? {});
}

export async function saveSchedule({ data }: Services, value: BackupSchedule): Promise<void> {
  await data.getRepository(SettingEntity).upsert({ name: NAME, value: value as never }, ['name']);
}
