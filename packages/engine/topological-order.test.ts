import fc from 'fast-check';
import { expect, it } from 'vitest';
import { inputsFirst } from './topological-order';

const order = (starts: readonly number[], under: (n: number) => readonly number[]) =>
  inputsFirst(starts, (n) => n, under);

it('gives each once, after all that lies under it', () => {
  // Whatever is numbered lower may lie under what is numbered higher.
  const graphs = fc.array(fc.array(fc.nat(), { maxLength: 4 }), { minLength: 1, maxLength: 40 });
  fc.assert(
    fc.property(graphs, (all) => {
      const under = all.map((list, i) => (i === 0 ? [] : list.map((n) => n % i)));
      const found = order([all.length - 1], (n) => under[n]);
      expect(new Set(found).size).toBe(found.length);
      expect(found.at(-1)).toBe(all.length - 1);
      for (const [i, n] of found.entries()) for (const m of under[n]) expect(found.indexOf(m)).toBeLessThan(i);
    }),
  );
});

it('follows a chain of any length', () => {
  const length = 300_000;
  const found = order([length - 1], (n) => (n > 0 ? [n - 1] : []));
  expect(found).toHaveLength(length);
  expect(found[0]).toBe(0);
});

it('begins at several', () => {
  expect(order([3, 1, 3], (n) => (n === 3 ? [2] : []))).toEqual([2, 3, 1]);
});
