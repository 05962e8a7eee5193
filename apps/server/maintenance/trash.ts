import { millisecondsInDay as DAY } from 'date-fns/constants';
import { type EntitySchema, LessThan, Not, IsNull } from 'typeorm';
import type { z } from 'zod';
import { TRASHABLE, type TrashKind, type trashedRow } from '@owl-loom/api/maintenance';
import { UserError } from '@owl-loom/base/errors';
import {
  ExportEntity,
  RecipeEntity,
  type Stack,
  StackEntity,
  SwatchEntity,
  TargetEntity,
  type Trashable,
} from '../storage/db/entities';
import { dropCovers } from '../thumbnails/cover';
import { insertUnderUniqueName } from '../stacks/unique-names';
import { dropSheet } from '../thumbnails/contact-sheet';
import { deleteUnreferenced } from '../services/stacks';
import { dropExport } from '../services/export-files';
import type { Services } from '../services/services';
import { dropPictures } from '../thumbnails/swatch';

interface Row extends Trashable {
  id: string;
  targetId?: string;
}

const ENTITY: Record<TrashKind, EntitySchema<Row>> = {
  target: TargetEntity as EntitySchema<Row>,
  stack: StackEntity as EntitySchema<Row>,
  recipe: RecipeEntity as EntitySchema<Row>,
  swatch: SwatchEntity as EntitySchema<Row>,
  export: ExportEntity as EntitySchema<Row>,
};

/** Days that something lies in the trash. */
export const TRASH_DAYS = 30;

/** Something in the trash, as lists show it. */
export type Trashed = z.output<typeof trashedRow>;

const mark = (kind: TrashKind, deletedAt: () => string) => ({
  deletedAt,
  // A recipe that is brought back stands where it stood among the others.
  ...(kind === 'recipe' && { updatedAt: () => 'updatedAt' }),
});

async function setMark(services: Services, kind: TrashKind, id: string, deletedAt: () => string): Promise<void> {
  await services.data
    .createQueryBuilder()
    .update(ENTITY[kind])
    .set(mark(kind, deletedAt) as never)
    .where('id = :id', { id })
    .execute();
}

/** Puts something into the trash: it is no longer found, and keeps all that it has. */
export const moveToTrash = (services: Services, kind: TrashKind, id: string): Promise<void> =>
  setMark(services, kind, id, () => 'CURRENT_TIMESTAMP(3)');

/** What lies in the trash by itself, newest first: not what went with its target. */
export async function trashed(services: Services): Promise<Trashed[]> {
  const targets = await services.data.getRepository(TargetEntity).find({ withDeleted: true });
  const byId = new Map(targets.map((target) => [target.id, target]));
  const lists = TRASHABLE.map(async (kind): Promise<Trashed[]> => {
    const rows = await services.data.getRepository<Row>(ENTITY[kind]).find({
      where: { deletedAt: Not(IsNull()) },
      withDeleted: true,
      select: NAMED[kind] as never,
    });
    return rows.flatMap((row) => {
      const target = row.targetId === undefined ? undefined : byId.get(row.targetId);
      if (!row.deletedAt || target?.deletedAt) return [];
      const { name, fileName = '' } = row as { name?: string; fileName?: string };
      return {
        kind,
        id: row.id,
        name: name ?? fileName,
        target: target?.name ?? null,
        deletedAt: row.deletedAt,
        until: new Date(row.deletedAt.getTime() + TRASH_DAYS * DAY),
      };
    });
  });
  return (await Promise.all(lists)).flat().sort((a, b) => b.deletedAt.getTime() - a.deletedAt.getTime());
}

const ALWAYS = { id: true, deletedAt: true } as const;
const NAMED: Record<TrashKind, object> = {
  target: { ...ALWAYS, name: true },
  stack: { ...ALWAYS, targetId: true, name: true },
  recipe: { ...ALWAYS, targetId: true, name: true },
  swatch: { ...ALWAYS, targetId: true, name: true },
  export: { ...ALWAYS, targetId: true, fileName: true },
};

/** @throws UserError where it is not in the trash */
async function inTrash(services: Services, kind: TrashKind, id: string): Promise<Row> {
  const row = await services.data
    .getRepository<Row>(ENTITY[kind])
    .findOne({ where: { id, deletedAt: Not(IsNull()) }, withDeleted: true });
  if (!row) throw new UserError('not-in-trash', `There is no such ${kind} in the trash; it was restored or deleted.`);
  return row;
}

/**
 * Brings something back to where it was.
 * @returns the name that a stack has now, where another one took its name meanwhile
 * @throws UserError where it is not in the trash, where its file has been brought in anew, or its target lies in the trash
 */
export async function restoreFromTrash(services: Services, kind: TrashKind, id: string): Promise<{ name?: string }> {
  const row = await inTrash(services, kind, id);
  if (row.targetId !== undefined && !(await services.data.getRepository(TargetEntity).existsBy({ id: row.targetId })))
    throw new UserError('in-trash', 'Its target is in the trash too. Restore that first.');
  if (kind !== 'stack') {
    await setMark(services, kind, id, () => 'NULL');
    return {};
  }
  const stack = row as Stack;
  const table = services.data.getRepository(StackEntity);
  const anew = await table.findOneBy({ targetId: stack.targetId, hash: stack.hash });
  if (anew)
    throw new UserError(
      'same-file',
      `The file of ${stack.name} was imported again as ${anew.name}. There is nothing to restore.`,
    );
  const now = { name: stack.name };
  await insertUnderUniqueName(services, stack.targetId, stack.name, async (name) => {
    now.name = name;
    if (name !== stack.name) await table.update({ id }, { name });
    await setMark(services, kind, id, () => 'NULL');
  });
  return now.name === stack.name ? {} : now;
}

/** Takes something in the trash away for good, with its files. */
export async function deletePermanently(services: Services, kind: TrashKind, id: string): Promise<void> {
  const row = await inTrash(services, kind, id);
  const of = kind === 'target' ? { targetId: id } : { id };
  const all = async <T extends Row>(entity: EntitySchema<T>, own: TrashKind): Promise<T[]> =>
    kind === 'target' || kind === own
      ? services.data.getRepository<T>(entity).find({ where: of as never, withDeleted: true })
      : [];
  const stacks = await all(StackEntity, 'stack');
  const exports = await all(ExportEntity, 'export');
  const recipes = await all(RecipeEntity, 'recipe');
  const swatches = await all(SwatchEntity, 'swatch');
  // The row first: files that no row speaks of are swept, a row without its files is a fault.
  await services.data.getRepository<Row>(ENTITY[kind]).delete(row.id);
  for (const stack of stacks) await deleteUnreferenced(services, stack);
  for (const file of exports) await dropExport(services, file);
  await dropCovers(services, recipes);
  if (kind === 'target') await dropSheet(services, id);
  await dropPictures(services, swatches);
}

/**
 * Empties the trash, of what went there before a time.
 * @returns how many went
 */
export async function emptyTrash(services: Services, before = new Date()): Promise<number> {
  let gone = 0;
  for (const kind of TRASHABLE) {
    const rows = await services.data
      .getRepository<Row>(ENTITY[kind])
      .find({ where: { deletedAt: LessThan(before) }, withDeleted: true, select: ALWAYS });
    for (const { id } of rows) {
      await deletePermanently(services, kind, id);
      gone++;
    }
  }
  return gone;
}

/** Lets go of what has lain in the trash for its time. */
export const purgeExpired = (services: Services, now = Date.now()): Promise<number> =>
  emptyTrash(services, new Date(now - TRASH_DAYS * DAY));
