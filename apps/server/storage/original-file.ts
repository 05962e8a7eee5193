import { existsSync } from 'node:fs';
import { UserError } from '@owl-loom/base/errors';
import { type Stack, StackEntity } from './db/entities';
import { stackFile } from '../services/stacks';
import type { Services } from '../services/services';

/** Why a stack's pixels cannot be had, and what to do. */
export const missingFileError = ({ name, fileName, lacking }: Stack): UserError =>
  new UserError(
    'file-lacking',
    lacking === 'missing'
      ? `The original file of ${name} is missing. Drop ${fileName} on its target to restore it.`
      : `The original file of ${name} is damaged. Drop ${fileName} on its target again to restore it.`,
  );

/**
 * Whether a stack's file is there and is what came in.
 * @returns why it is not
 */
export async function checkOriginal(services: Services, { hash }: Pick<Stack, 'hash'>): Promise<Stack['lacking']> {
  const path = stackFile(services.root, hash);
  if (!existsSync(path)) return 'missing';
  return (await services.pool.hash(path)) === hash ? null : 'damaged';
}

/**
 * Looks at a stack's file and writes down how it was found. A file that comes at that moment waits for it, and is what counts.
 * @returns why it cannot be used, or null; and whether that is news
 */
export const lookAtFile = (
  services: Services,
  { id, hash }: Pick<Stack, 'id' | 'hash'>,
): Promise<{ readonly lacking: Stack['lacking']; readonly news: boolean }> =>
  services.fileMutex.runExclusive(hash, async () => {
    const row = await services.data.getRepository(StackEntity).findOne({ where: { id }, withDeleted: true });
    const lacking = await checkOriginal(services, { hash });
    const news = row !== null && row.lacking !== lacking;
    if (news) await setFileState(services, hash, lacking);
    return { lacking, news };
  });

/** Writes down how all stacks of a file stand. */
export async function setFileState(services: Services, hash: string, lacking: Stack['lacking']): Promise<void> {
  await services.data
    .createQueryBuilder()
    .update(StackEntity)
    .set({ lacking })
    .where('hash = :hash', { hash })
    .execute();
}
