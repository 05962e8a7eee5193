import { millisecondsInDay as DAY, millisecondsInHour as HOUR } from 'date-fns/constants';
import type { Revision } from './db/entities';

/** What decides on whether a state is kept. */
export type Aged = Pick<Revision, 'id' | 'number' | 'conflict' | 'label' | 'createdAt'>;

/** The span of time of which one state is kept, by its age; none while it is young. */
function spanOf(age: number): number | undefined {
  if (age < DAY) return undefined;
  return age < 7 * DAY ? HOUR : DAY;
}

/**
 * Which earlier states may go: of those older than a day the newest of each hour stays, of those older than a week the newest of each day.
 * Named ones, the other side of a conflict, the first and the newest stay for ever.
 * @param states of one recipe
 * @param needed numbers of states that files were written from
 */
export function revisionsToPrune(states: readonly Aged[], needed: ReadonlySet<number>, now: number): string[] {
  const ordered = [...states].sort((a, b) => b.createdAt.getTime() - a.createdAt.getTime());
  const numbers = ordered.flatMap(({ number }) => (number === null ? [] : [number]));
  const ends = new Set([Math.min(...numbers), Math.max(...numbers)]);
  const taken = new Set<string>();
  return ordered.flatMap(({ id, number, conflict, label, createdAt }) => {
    const time = createdAt.getTime();
    const span = spanOf(now - time);
    if (span === undefined) return [];
    const place = `${span} ${Math.floor(time / span)}`;
    const first = !taken.has(place);
    taken.add(place);
    const stays = first || label !== null || conflict || number === null || ends.has(number) || needed.has(number);
    return stays ? [] : [id];
  });
}
