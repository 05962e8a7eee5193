import fc from 'fast-check';
import { expect, it } from 'vitest';
import { argsortDescending } from './order';

it('the order from the greatest to the least is that of a comparison, equal ones as they stand', () => {
  const value = fc.oneof(
    fc.float({ noNaN: true }),
    fc.constantFrom(0, -0, 1, -1, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY),
  );
  fc.assert(
    fc.property(fc.array(value), (list) => {
      const values = Float32Array.from(list);
      const order = [...argsortDescending(values)];
      const wanted = list.map((_, i) => i).sort((a, b) => (values[b] === values[a] ? a - b : values[b] - values[a]));
      expect(order).toEqual(wanted);
    }),
  );
});

it('more values than a key has room for are ordered as well', () => {
  const values = new Float32Array(2 ** 21 + 3);
  values[5] = 2;
  values[2 ** 21 + 1] = 3;
  expect([...argsortDescending(values).subarray(0, 4)]).toEqual([2 ** 21 + 1, 5, 0, 1]);
});
