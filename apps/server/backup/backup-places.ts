import { realpath } from 'node:fs/promises';
import { z } from 'zod';
import { UserError } from '@owl-loom/base/errors';
import { SettingEntity } from '../storage/db/entities';
import { checkPlace, within } from './place';
import type { Services } from '../services/services';
import { upsertRow } from '../storage/db/write-rows';

const NAME = 'backup-places';
const MOST = 100;
const schema = z.array(z.string().max(4096)).max(MOST).catch([]);

async function placesOf({ data }: Services): Promise<string[]> {
  const row = await data.getRepository(SettingEntity).findOneBy({ name: NAME });
  return schema.parse(row?.value ?? []);
}

/** Lets backups go to a folder, and to those in it: the owner has said so by a command. */
export async function allowPlace(services: Services, dir: string): Promise<void> {
  const place = await checkPlace(dir);
  const others = (await placesOf(services)).filter((other) => other !== place);
  const value = [...others, place].slice(-MOST);
  await upsertRow(services.data.getRepository(SettingEntity), { name: NAME, value }, ['name']);
}

/**
 * Sees that whoever asks from a page names a folder that the owner has allowed: anyone who is let in could otherwise write all over the disk.
 * @throws UserError with the command that allows it
 */
export async function needAllowed(services: Services, dir: string): Promise<void> {
  const place = await checkPlace(dir);
  const allowed = await Promise.all((await placesOf(services)).map((other) => realpath(other).catch(() => other)));
  if (!allowed.some((folder) => within(folder, place)))
    throw new UserError(
      'not-allowed',
      `Backups to ${dir} are not allowed yet. Run ./loom backup --allow ${dir} on this machine once, then try again.`,
    );
}
