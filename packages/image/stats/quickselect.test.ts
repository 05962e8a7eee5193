import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { medianInPlace, quickselect, medianMadInPlace } from './quickselect';

// Nought and nought with a minus are one number, which of them comes first is nobody's business: adding 0 makes both the plain one.
const number = fc.oneof(fc.float({ noNaN: true, min: -5, max: 5 }), fc.constantFrom(0, 1, 1, 2)).map((v) => v + 0);
const list = fc.array(number, { minLength: 1, maxLength: 300 });

describe('selection', () => {
  it('finds the value of every rank, whatever stands twice', () => {
    fc.assert(
      fc.property(list, fc.nat(299), (values, at) => {
        const rank = at % values.length;
        const sorted = Float32Array.from(values).sort();
        expect(quickselect(Float32Array.from(values), rank)).toBe(sorted[rank]);
        const middle = (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
        expect(medianInPlace(Float32Array.from(values))).toBe(middle);
      }),
    );
  });

  it('of numbers in order, all alike or none at all ends', () => {
    expect(medianInPlace(Float32Array.from({ length: 100_001 }, (_, i) => i))).toBe(50_000);
    expect(medianInPlace(new Float32Array(100_000).fill(3))).toBe(3);
    expect(medianInPlace(new Float32Array(0))).toBeNaN();
  });

  it('finds the middle of many, however they lie', () => {
    const shape = fc.record({
      seed: fc.nat(9999),
      more: fc.nat(3),
      scale: fc.constantFrom(1e-30, 1e-3, 1, 65_535),
      shift: fc.constantFrom(-3, -0.5, 0, 1, 1e4),
      coarse: fc.constantFrom(0, 2, 100),
    });
    fc.assert(
      fc.property(shape, ({ seed, more, scale, shift, coarse }) => {
        const random = randomFrom(seed);
        const values = Float32Array.from({ length: 2 ** 15 + more }, () => {
          const v = random.next();
          return scale * ((coarse ? Math.floor(coarse * v) : v) + shift);
        });
        const sorted = values.slice().sort();
        const middle = (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
        expect(medianInPlace(values) + 0).toBe(middle + 0);
      }),
      { numRuns: 60 },
    );
  });

  it('tells median and spread, no data left out', () => {
    const values = Float32Array.of(1, Number.NaN, 2, 3, Number.NaN, 4, 100);
    expect(medianMadInPlace(values)).toEqual({ middle: 3, sigma: 1.4826, count: 5 });
  });
});
