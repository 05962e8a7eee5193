import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { countAtLeast, planeMaxima } from './extremes';

describe('the greatest values of a plane', () => {
  it('are told piece by piece, and who stands near them is counted the same with that and without', () => {
    const length = fc.constantFrom(1, 7, 65_535, 65_536, 65_537, 200_003);
    fc.assert(
      fc.property(
        fc.nat(9999),
        length,
        fc.constantFrom(0, 0.3, 1),
        fc.constantFrom(0.5, 0.999, 1),
        (seed, n, gone, share) => {
          const random = randomFrom(seed);
          const values = Float32Array.from({ length: n }, () =>
            random.next() < gone ? Number.NaN : Math.round(random.next() ** 40 * 5000) / 5000 - 0.01,
          );
          const there = values.filter((v) => v === v);
          const { max, count, tops } = planeMaxima(values);
          expect(count).toBe(there.length);
          expect(max).toBe(there.reduce((max, v) => Math.max(max, v), Number.NEGATIVE_INFINITY));
          const min = share * max;
          const many = there.filter((v) => v >= Math.fround(min)).length;
          expect(countAtLeast(values, min)).toBe(many);
          expect(countAtLeast(values, min, tops)).toBe(many);
        },
      ),
      { numRuns: 60 },
    );
  });
});
