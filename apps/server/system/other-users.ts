import { readFile, stat, writeFile } from 'node:fs/promises';
import { userInfo } from 'node:os';
import { join } from 'node:path';

/** Numbers from which on, and below which, users are people (useradd's own bounds). */
const PEOPLE = { from: 1000, below: 60_000 } as const;

/**
 * People besides this user who can log in on a machine, by name.
 * @param passwd its list of users, as passwd(5) says it
 */
export function loginUsers(passwd: string, own: number): string[] {
  return passwd.split('\n').flatMap((line) => {
    const [name, , uid, , , , shell = ''] = line.split(':');
    const id = Number(uid);
    const person = id >= PEOPLE.from && id < PEOPLE.below && id !== own;
    return person && !/\/(nologin|false|sync)$/.test(shell) && shell !== '' ? [name] : [];
  });
}

/**
 * What is to be said of an Owl Loom without a password where others can log in; once for a data folder.
 * @returns undefined where nothing is to be said
 */
export async function wordOnOthers(root: string, list = '/etc/passwd'): Promise<string | undefined> {
  const marker = join(root, '.told-others');
  if (await stat(marker).catch(() => undefined)) return undefined;
  const names = loginUsers(await readFile(list, 'utf8').catch(() => ''), userInfo().uid);
  if (names.length === 0) return undefined;
  await writeFile(marker, '');
  const who = names.length === 1 ? names[0] : `${names.slice(0, 3).join(', ')}${names.length > 3 ? ' and others' : ''}`;
  return `${who} can log in on this machine as well, and whoever does can open this Owl Loom: set a password with ./loom password, then start again. This is said once.`;
}
