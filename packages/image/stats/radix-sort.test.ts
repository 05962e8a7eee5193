import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { radixSort } from './radix-sort';

describe('numbers in rising order', () => {
  it('come as the language sorts them: any length, signs, infinities, many alike', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 3000 }),
        fc.nat(9999),
        fc.constantFrom(1, 20, 1e6),
        (length, seed, steps) => {
          const random = randomFrom(seed);
          const values = Float32Array.from({ length }, () => {
            const v = random.next();
            if (v < 0.01) return Number.POSITIVE_INFINITY;
            if (v < 0.02) return Number.NEGATIVE_INFINITY;
            return (Math.round(random.normal() * steps) / steps) * 10 ** Math.floor(20 * random.next() - 10);
          });
          const expected = values.slice().sort();
          const sorted = radixSort(values);
          expect(sorted).toBe(values);
          expect(sorted).toEqual(expected);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('leave the numbers of the list before alone', () => {
    const long = Float32Array.from({ length: 5000 }, (_, i) => Math.cos(i));
    radixSort(long);
    const copy = long.slice();
    radixSort(Float32Array.from({ length: 900 }, (_, i) => Math.sin(i)));
    expect(long).toEqual(copy);
    for (let i = 1; i < long.length; i++) expect(long[i]).toBeGreaterThanOrEqual(long[i - 1]);
  });
});
