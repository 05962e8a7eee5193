import type { EntitySchema, FindOptionsWhere } from 'typeorm';
import { UserError } from '@owl-loom/base/errors';
import type { Trashable } from '../storage/db/entities';
import type { Services } from '../services/services';

/**
 * The row with an id as it came with a request.
 * @param what its name in sentences; `no-<what>` is the fault's code
 * @throws UserError where there is none, or it lies in the trash
 */
export async function findOrThrow<T extends Trashable & { id: string }>(
  services: Services,
  entity: EntitySchema<T>,
  id: unknown,
  what: string,
): Promise<T> {
  const row =
    typeof id === 'string' && id.length <= 36
      ? await services.data
          .getRepository<T>(entity)
          .findOne({ where: { id } as FindOptionsWhere<T>, withDeleted: true })
      : null;
  if (!row) throw new UserError(`no-${what}`, `There is no such ${what}; it may have been removed.`);
  if (row.deletedAt) throw new UserError('in-trash', `This ${what} is in the trash. Restore it first.`);
  return row;
}
