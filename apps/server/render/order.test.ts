import fc from 'fast-check';
import { type PiscinaTask, queueOptionsSymbol } from 'piscina';
import { describe, expect, it } from 'vitest';
import { PriorityTaskQueue } from '../workers/priority-queue';
import { assignPriorities } from './measurement-tasks';

describe('the order of tasks', () => {
  it('puts whatever a task depends on above it, and the head of the longest line on top', () => {
    const stands = fc.array(fc.array(fc.nat(11), { maxLength: 4 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(stands, (rows) => {
        // Each stands on earlier ones only, so that none waits for itself.
        const under = new Map(rows.map((row, i) => [String(i), row.filter((j) => j < i).map(String)]));
        const tasks = new Map([...under].map(([key, needs]) => [key, { needs, priority: 0 }]));
        assignPriorities(tasks, ({ needs }) => needs);
        for (const { needs, priority } of tasks.values())
          for (const need of needs) expect(tasks.get(need)?.priority).toBeGreaterThan(priority);
        const longest = (key: string): number =>
          Math.max(0, ...[...under].flatMap(([other, needs]) => (needs.includes(key) ? [1 + longest(other)] : [])));
        for (const [key, { priority }] of tasks) expect(priority).toBe(longest(key));
      }),
    );
  });
});

describe('tasks that wait for a thread', () => {
  const task = (name: string, priority?: number): PiscinaTask =>
    ({ name, [queueOptionsSymbol]: priority === undefined ? null : { priority } }) as PiscinaTask;

  it('go by priority, and by their coming where that is the same', () => {
    const queue = new PriorityTaskQueue();
    const low = task('low');
    for (const one of [low, task('high', 2), task('none', 0), task('middle', 1), task('high too', 2)]) queue.push(one);
    expect(queue.size).toBe(5);
    queue.remove(low);
    queue.remove(low);
    const names = Array.from({ length: 5 }, () => queue.shift()?.name);
    expect(names).toEqual(['high', 'high too', 'middle', 'none', undefined]);
    expect(queue.size).toBe(0);
  });
});
