import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { noiseSample } from './noise';
import { histogramOf } from './summary';

describe('histograms', () => {
  it('count every pixel once, where it lies', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -0.5, max: 1.5, noNaN: true }), { minLength: 1, maxLength: 400 }),
        fc.integer({ min: 1, max: 100 }),
        (list, k) => {
          const { low, high, bins } = histogramOf(Float32Array.from([...list, Number.NaN]), true);
          expect([low, high]).toEqual([0, 1]);
          expect(bins.reduce((a, b) => a + b, 0)).toBe(list.length);
          const inside = list.filter((v) => Math.floor(v * bins.length) === k).length;
          expect(bins[k]).toBe(inside);
        },
      ),
    );
  });

  it('of linear images span almost all of the pixels, and move with the image', () => {
    const values = Float32Array.from({ length: 20_001 }, (_, i) => i / 1000);
    const plain = histogramOf(values, false);
    expect(plain.low).toBeCloseTo(0.01, 3);
    expect(plain.high).toBeCloseTo(19.96, 3);
    expect(plain.bins.reduce((a, b) => a + b, 0)).toBe(values.filter((v) => v >= plain.low && v <= plain.high).length);
    const moved = histogramOf(
      values.map((v) => 3 * v + 2),
      false,
    );
    expect(moved.low).toBeCloseTo(3 * plain.low + 2, 3);
    expect(moved.high).toBeCloseTo(3 * plain.high + 2, 3);
    for (const [i, n] of plain.bins.entries()) expect(Math.abs(moved.bins[i] - n)).toBeLessThanOrEqual(2);
  });
});

describe('noise', () => {
  it('is that of the pixels whose surroundings are kept', () => {
    const [width, height] = [200, 160];
    const random = randomFrom(4);
    const values = Float32Array.from(
      { length: width * height },
      (_, i) => (i % width < 100 ? 0.01 : 0.04) * random.normal(),
    );
    const found = noiseSample(values, width, height, { keep: (i) => i % width >= 100 });
    expect(found.samples).toBe((100 - 4) * (height - 4));
    expect(Math.abs(found.noise / 0.04 - 1)).toBeLessThan(0.05);
    const placed = noiseSample(values, width, height, { place: { x: 100, y: 0, width: 100, height } });
    expect(placed).toEqual(found);
  });
});
