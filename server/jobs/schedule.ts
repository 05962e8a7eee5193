import { z } from 'zod';
import { SettingEntity } from '../db/entities';
import type { Studio } from './studio';

const NAME = 'backup';

/** When everything is backed up by itself, and where to. */
export const scheduleSchema = z.strictObject({
  every: z.enum(['never', 'day', 'week']).default('never'),
  dir: z.string().trim().max(1000).default(''),
  /** When that was last done. */
  last: z.iso.datetime().nullable().default(null),
});
export type Schedule = z.output<typeof scheduleSchema>;

export async function scheduleOf({ data }: Studio): Promise<Schedule> {
  const row = await data.getRepository(SettingEntity).findOneBy({ name: NAME });
  return scheduleSchema.parse(row?.value ?? {});
}

export async function saveSchedule({ data }: Studio, value: Schedule): Promise<void> {
  await data.getRepository(SettingEntity).upsert({ name: NAME, value: value as never }, ['name']);
}
