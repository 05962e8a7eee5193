import { setTimeout as delay } from 'node:timers/promises';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MemorySemaphore } from './memory-semaphore';

const never = new AbortController().signal;
const settle = (): Promise<void> => delay(0);

describe('a budget of memory', () => {
  it('is never overspent, serves everyone, in order, and is whole again at the end', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 1, max: 150 }), { maxLength: 30 }), async (wanted) => {
        const budget = new MemorySemaphore(100);
        const begun: number[] = [];
        const works = wanted.map((bytes, i) =>
          budget.withBytes(bytes, never, async () => {
            begun.push(i);
            expect(budget.inUse).toBeLessThanOrEqual(100);
            await settle();
          }),
        );
        await Promise.all(works);
        expect(begun).toEqual(wanted.map((_, i) => i));
        expect(budget.inUse).toBe(0);
      }),
      { numRuns: 30 },
    );
  });

  it('lets works go on side by side where there is room, and what is too large alone', async () => {
    const budget = new MemorySemaphore(100);
    const ends: (() => void)[] = [];
    const hold = (bytes: number) =>
      budget.withBytes(bytes, never, () => new Promise<void>((resolve) => void ends.push(resolve)));
    const works = [hold(40), hold(60), hold(1000)];
    await settle();
    expect(ends).toHaveLength(2);
    for (const end of ends.splice(0)) end();
    await settle();
    expect(budget.inUse).toBe(100);
    expect(ends).toHaveLength(1);
    ends[0]();
    await Promise.all(works);
  });

  it('is given back by works that fail; one that is stopped while it waits leaves its place', async () => {
    const budget = new MemorySemaphore(100);
    await expect(budget.withBytes(90, never, () => Promise.reject(new Error('broke')))).rejects.toThrow('broke');
    expect(budget.inUse).toBe(0);
    let end = (): void => undefined;
    const first = budget.withBytes(
      90,
      never,
      () =>
        new Promise<void>((resolve) => {
          end = resolve;
        }),
    );
    const stop = new AbortController();
    const second = budget.withBytes(50, stop.signal, async () => 'never');
    const third = budget.withBytes(10, never, async () => 'small');
    stop.abort(new Error('stopped'));
    await expect(second).rejects.toThrow('stopped');
    // What waited behind it had room all the time.
    expect(await third).toBe('small');
    end();
    await first;
    await expect(budget.withBytes(1, stop.signal, async () => 'late')).rejects.toThrow('stopped');
    expect(budget.inUse).toBe(0);
  });
});
