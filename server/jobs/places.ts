import { realpath } from 'node:fs/promises';
import { isAbsolute } from 'node:path';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { SettingEntity } from '../db/entities';
import { placeOf, within } from '../backup/backup';
import type { Studio } from './studio';

const NAME = 'backup-places';
const MOST = 100;
const schema = z.array(z.string().max(4096)).max(MOST).catch([]);

async function placesOf({ data }: Studio): Promise<string[]> {
  const row = await data.getRepository(SettingEntity).findOneBy({ name: NAME });
  return schema.parse(row?.value ?? []);
}

/** Where the system keeps what looks like files and is none: reading there may never end, writing may do anything. */
const KERNEL = ['/proc', '/sys', '/dev', '/run'];

/** @throws UserError where a folder is the system's own */
export async function checkPlace(dir: string): Promise<string> {
  if (!isAbsolute(dir)) throw new UserError('bad-folder', `${dir} is no whole path; give one that begins with /.`);
  const place = await placeOf(dir);
  if (place === '/' || KERNEL.some((folder) => within(folder, place)))
    throw new UserError('bad-folder', `${dir} belongs to the system; choose a folder on a disk for backups.`);
  return place;
}

/** Lets backups go to a folder, and to those in it: the owner has said so by a command. */
export async function allowPlace(studio: Studio, dir: string): Promise<void> {
  const place = await checkPlace(dir);
  const others = (await placesOf(studio)).filter((other) => other !== place);
  const value = [...others, place].slice(-MOST);
  await studio.data.getRepository(SettingEntity).upsert({ name: NAME, value: value as never }, ['name']);
}

/**
 * Sees that whoever asks from a page names a folder that the owner has allowed: anyone who is let in could otherwise write all over the disk.
 * @throws UserError with the command that allows it
 */
export async function needAllowed(studio: Studio, dir: string): Promise<void> {
  const place = await checkPlace(dir);
  const allowed = await Promise.all((await placesOf(studio)).map((other) => realpath(other).catch(() => other)));
  if (!allowed.some((folder) => within(folder, place)))
    throw new UserError(
      'not-allowed',
      `Backups may not go to ${dir} yet: say ./loom backup --allow ${dir} on this machine once, then try again.`,
    );
}
