import { StackEntity } from '../storage/db/entities';
import type { Services } from '../services/services';

/** Names are alike to the database that differ by case or accents alone. */
const { compare } = new Intl.Collator('und', { sensitivity: 'base' });

/** Letters of a name before it is counted up, at most: the number must find room. */
const LONGEST = 48;

/** The first letters of a text, none of them torn. */
export const truncate = (text: string, max: number): string =>
  [...text.slice(0, 2 * max)].slice(0, max).join('').trim();

/** A name that none of these is, also by case and accents: the wanted one, or that counted up. */
export function uniqueName(taken: readonly string[], wanted: string): string {
  const isFree = (name: string): boolean => taken.every((other) => compare(other, name) !== 0);
  if (isFree(wanted)) return wanted;
  const base = truncate(wanted, LONGEST);
  if (isFree(base)) return base;
  for (let n = 2; ; n++) if (isFree(`${base}-${n}`)) return `${base}-${n}`;
}

/** Enters a stack under a free name. One at a time: of two that come at once each must see the other's name. */
export const insertUnderUniqueName = (
  services: Services,
  targetId: string,
  wanted: string,
  enter: (name: string) => Promise<unknown>,
): Promise<void> =>
  services.fileMutex.runExclusive(`names of ${targetId}`, async () => {
    const rows = await services.data.getRepository(StackEntity).find({ where: { targetId }, select: { name: true } });
    await enter(
      uniqueName(
        rows.map(({ name }) => name),
        wanted,
      ),
    );
  });
