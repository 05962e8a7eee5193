import type { FindOptionsWhere, ObjectLiteral, QueryDeepPartialEntity, Repository } from 'typeorm';

/** A row as TypeORM takes it. Its own type of a row looks into JSON columns as if their parts were rows, and then refuses them. */
const columnsOf = <T extends ObjectLiteral>(row: Partial<T>) => row as QueryDeepPartialEntity<T>;

/** Enters a row. */
export async function insertRow<T extends ObjectLiteral>(table: Repository<T>, row: Partial<T>): Promise<void> {
  await table.insert(columnsOf(row));
}

/** Changes columns of the rows that are meant. */
export async function updateRow<T extends ObjectLiteral>(
  table: Repository<T>,
  which: string | FindOptionsWhere<T>,
  change: Partial<T>,
): Promise<void> {
  await table.update(which, columnsOf(change));
}

/** Enters a row, or changes the one that has the same keys. */
export async function upsertRow<T extends ObjectLiteral>(
  table: Repository<T>,
  row: Partial<T>,
  keys: readonly (keyof T & string)[],
): Promise<void> {
  await table.upsert(columnsOf(row), [...keys]);
}
