import type { DataSource } from 'typeorm';
import { VERSION } from '../../system/version';
import { SettingEntity } from './entities';

/** Writes down which version of Owl Loom last opened these data; backups carry it with them. */
export async function recordVersion(data: DataSource): Promise<void> {
  await data.getRepository(SettingEntity).upsert({ name: 'version', value: VERSION }, ['name']);
}
