import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Aged, revisionsToPrune } from './prune-revisions';

const NOW = Date.UTC(2030, 4, 20, 12, 30);
const [HOUR, DAY] = [3_600_000, 86_400_000];
const state = (number: number | null, age: number, more: Partial<Aged> = {}): Aged => ({
  id: `s${number ?? `x${age}`}`,
  number,
  conflict: number === null,
  label: null,
  createdAt: new Date(NOW - age),
  ...more,
});
const none = new Set<number>();

describe('earlier states', () => {
  it('all stay for a day, then one an hour, then one a day', () => {
    const states = [
      state(9, 0),
      state(8, 5 * HOUR),
      state(7, 5 * HOUR + 60_000),
      // Two in one hour of the day before yesterday.
      state(6, 2 * DAY + 5 * 60_000),
      state(5, 2 * DAY + 9 * 60_000),
      // Three in one day, a fortnight ago.
      state(4, 14 * DAY),
      state(3, 14 * DAY + HOUR),
      state(2, 14 * DAY + 3 * HOUR),
      state(1, 15 * DAY),
    ];
    expect(revisionsToPrune(states, none, NOW).sort()).toEqual(['s2', 's3', 's5']);
  });

  it('named, conflicting, first, newest and written ones stay for ever', () => {
    const old = 40 * DAY;
    const states = [
      state(6, old),
      state(5, old + 1000, { label: 'the calm one' }),
      state(null, old + 2000),
      state(4, old + 3000),
      state(3, old + 4000),
      state(1, old + 5000),
    ];
    expect(revisionsToPrune(states, new Set([4]), NOW)).toEqual(['s3']);
  });

  it('once thinned, are not thinned further at the same time, and leave some of every day', () => {
    const ages = fc.array(fc.integer({ min: 0, max: 60 * DAY }), { minLength: 1, maxLength: 80 });
    fc.assert(
      fc.property(ages, (list) => {
        const states = list.sort((a, b) => b - a).map((age, i) => state(i + 1, age, { id: `s${i}` }));
        const gone = new Set(revisionsToPrune(states, none, NOW));
        const left = states.filter(({ id }) => !gone.has(id));
        expect(revisionsToPrune(left, none, NOW)).toEqual([]);
        const days = (of: readonly Aged[]) => new Set(of.map(({ createdAt }) => Math.floor(createdAt.getTime() / DAY)));
        expect(days(left)).toEqual(days(states));
      }),
    );
  });
});
