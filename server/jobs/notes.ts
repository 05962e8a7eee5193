import { randomUUID } from 'node:crypto';
import { UpkeepEntity, type UpkeepNote } from '../db/entities';
import type { Studio } from './studio';

/** Notes that are kept. */
const MOST = 500;

/** Writes down what went on by itself. */
export async function note({ data, log }: Studio, kind: UpkeepNote['kind'], says: string): Promise<void> {
  log.info({ kind }, says);
  await data.getRepository(UpkeepEntity).insert({ id: randomUUID(), kind, says: says.slice(0, 1000) });
}

/** The latest notes, newest first. */
export const notes = ({ data }: Studio, most = 40): Promise<UpkeepNote[]> =>
  data.getRepository(UpkeepEntity).find({ order: { createdAt: 'DESC' }, take: most });

/** Lets go of all but the latest. */
export async function forgetNotes({ data }: Studio): Promise<void> {
  const table = data.getRepository(UpkeepEntity);
  const old = await table.find({ select: { id: true }, order: { createdAt: 'DESC' }, skip: MOST, take: 1000 });
  if (old.length > 0) await table.delete(old.map(({ id }) => id));
}
