import { randomBytes } from 'node:crypto';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { parseJsonOrUndefined } from '@owl-loom/base/json';

/** Where a running server answers commands of the same user on the same machine, and the key that they show it. */
const schema = z.strictObject({ address: z.url(), key: z.string().min(20) });
export type Address = z.output<typeof schema>;

const fileOf = (root: string): string => join(root, 'address.json');

/** A key for one run. */
export const newKey = (): string => randomBytes(32).toString('hex');

/**
 * Says where the server answers, to whoever may read the data folder.
 * @returns takes it back
 */
export async function publishAddress(root: string, address: Address): Promise<() => Promise<void>> {
  await writeFile(fileOf(root), JSON.stringify(address), { mode: 0o600 });
  return () => rm(fileOf(root), { force: true });
}

/** Where the server of a folder answers; undefined where it has not said. */
export const addressOf = async (root: string): Promise<Address | undefined> =>
  schema.safeParse(parseJsonOrUndefined(await readFile(fileOf(root), 'utf8').catch(() => ''))).data;
