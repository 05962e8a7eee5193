import { randomUUID } from 'node:crypto';
import { UpkeepEntity, type MaintenanceEntry } from './db/entities';
import type { Services } from '../services/services';

/** Notes that are kept. */
const MOST = 500;

/** Writes down what went on by itself. */
export async function logMaintenance(
  { data, log }: Services,
  kind: MaintenanceEntry['kind'],
  says: string,
): Promise<void> {
  log.info({ kind }, says);
  await data.getRepository(UpkeepEntity).insert({ id: randomUUID(), kind, says: says.slice(0, 1000) });
}

/** The latest notes, newest first. */
export const notes = ({ data }: Services, max = 40): Promise<MaintenanceEntry[]> =>
  data.getRepository(UpkeepEntity).find({ order: { createdAt: 'DESC' }, take: max });

/** Lets go of all but the latest. */
export async function forgetNotes({ data }: Services): Promise<void> {
  const table = data.getRepository(UpkeepEntity);
  const old = await table.find({ select: { id: true }, order: { createdAt: 'DESC' }, skip: MOST, take: 1000 });
  if (old.length > 0) await table.delete(old.map(({ id }) => id));
}
