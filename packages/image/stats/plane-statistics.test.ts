import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allOf, binsPlain, bitsOf, collectInRanges, collectPlain, countBins } from '../kernels/log-histogram';
import { addNoise, randomFrom, scene } from '@owl-loom/testing/random';
import { planeStatistics, meanSquareAbout } from './plane-statistics';

/** Pictures whose brightness is spread in ways unlike each other, each of more pixels than are simply sorted. */
const N = 90_000;
const random = randomFrom(5);
const noisy = (of: (i: number) => number, sigma: number) =>
  Float32Array.from({ length: N }, (_, i) => of(i) + sigma * random.normal());
const PICTURES: Record<string, Float32Array> = {
  'a sky with stars': addNoise(scene(2, 300, 300), 0, 1, 0.0008, 3),
  'gas nearly everywhere': noisy((i) => 0.1 + 0.08 * Math.sin(i / 900) ** 2, 0.0004),
  'whole numbers': noisy(() => 0.02, 0.0002).map((v) => Math.round(v * 65535) / 65535),
  'far off nought': noisy(() => 40_000, 3),
  'hardly any noise': noisy((i) => (i % 50 === 0 ? 1 : 0.25), 1e-7),
  'one value': new Float32Array(N).fill(0.37),
  'one value and a few others': new Float32Array(N).fill(0.37).map((v, i) => (i % 700 === 0 ? i : v)),
  'two heaps': noisy((i) => (i % 5 < 3 ? 0.1 : 0.9), 0.01),
  'below nought': noisy(() => -0.3, 0.02),
  'mostly nothing': noisy(() => 0.5, 0.01).map((v, i) => (i % 10 === 0 ? v : Number.NaN)),
  'nothing at all': new Float32Array(N).fill(Number.NaN),
};

/** The clipped median by the book, on a sorted list. */
function clippedMedian(values: Float32Array): { sky: number; sigma: number } {
  let kept = [...values].filter((v) => v === v).sort((a, b) => a - b);
  const middle = (list: number[]) => (list[(list.length - 1) >> 1] + list[list.length >> 1]) / 2;
  for (let round = 0; ; round++) {
    const sky = middle(kept);
    const sigma = 1.4826 * middle(kept.map((v) => Math.abs(v - sky)).sort((a, b) => a - b));
    const next = kept.filter((v) => Math.abs(v - sky) <= 3 * sigma);
    if (next.length === kept.length || round > 60) return { sky, sigma };
    kept = next;
  }
}

describe('a census', () => {
  const at = [0.0005, 0.001, 0.25, 0.5, 0.998, 1];

  it.each(Object.keys(PICTURES))('of %s has the exact quantiles, ends and mean', (name) => {
    const values = PICTURES[name];
    const sorted = values.filter((v) => v === v).sort();
    const found = planeStatistics(values, at);
    expect(found.count).toBe(sorted.length);
    at.forEach((q, i) => {
      if (sorted.length === 0) return expect(found.quantiles[i]).toBeNaN();
      const rank = q * (sorted.length - 1);
      const [low, high] = [sorted[Math.floor(rank)], sorted[Math.ceil(rank)]];
      expect(found.quantiles[i]).toBe(low === high ? low : low + (high - low) * (rank - Math.floor(rank)));
    });
    if (sorted.length === 0) return;
    expect(found.min).toBe(sorted[0]);
    expect(found.max).toBe(sorted[sorted.length - 1]);
    const mean = sorted.reduce((sum, v) => sum + v, 0) / sorted.length;
    expect(Math.abs(found.mean - mean)).toBeLessThan(1e-9 * Math.max(1, Math.abs(mean)));
  });

  it.each(Object.keys(PICTURES))('of %s has the sky of the book to a small part of its spread', (name) => {
    const values = PICTURES[name];
    const { sky, sigma } = planeStatistics(values).sky;
    if (values.every(Number.isNaN)) return expect(sky).toBeNaN();
    const book = clippedMedian(values);
    const step = name === 'whole numbers' ? 1 / 65535 : 0;
    expect(Math.abs(sky - book.sky)).toBeLessThanOrEqual(0.003 * book.sigma + 1e-12 + step);
    expect(Math.abs(sigma - book.sigma)).toBeLessThanOrEqual(0.02 * book.sigma + 2e-9 * Math.abs(sky) + step);
  });

  it('moves with the picture', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 9, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), (b, a) => {
        const plain = planeStatistics(PICTURES['a sky with stars'], [0.001, 0.5], 0.998);
        const moved = planeStatistics(
          PICTURES['a sky with stars'].map((v) => a + b * v),
          [0.001, 0.5],
          0.998,
        );
        const near = (x: number, y: number) => expect(Math.abs(x - y)).toBeLessThan(3e-6 * b + 3e-7 * Math.abs(a));
        near(moved.sky.sky, a + b * plain.sky.sky);
        near(moved.quantiles[0], a + b * plain.quantiles[0]);
        const spread = (of: typeof plain) => Math.sqrt(meanSquareAbout(of.lowerMoments, of.sky.sky));
        // The top up to which pixels count lies between the edges of a bin, of which an octave has 512.
        expect(Math.abs(spread(moved) / spread(plain) / b - 1)).toBeLessThan(1 / 512);
      }),
      { numRuns: 25 },
    );
  });

  it('of few pixels agrees with that of many alike ones', () => {
    const few = PICTURES['a sky with stars'].slice(0, 59_000);
    const many = new Float32Array(2 * few.length);
    many.set(few);
    many.set(few, few.length);
    const [a, b] = [planeStatistics(few, [0.3], 0.99), planeStatistics(many, [0.3], 0.99)];
    expect(b.sky.sky).toBeCloseTo(a.sky.sky, 6);
    expect(b.quantiles[0]).toBeCloseTo(a.quantiles[0], 6);
    expect(meanSquareAbout(b.lowerMoments, 0) / meanSquareAbout(a.lowerMoments, 0)).toBeCloseTo(1, 4);
  });
});

describe('counts in the kernels', () => {
  it.each(Object.keys(PICTURES))('of %s are those of plain arithmetic', (name) => {
    const values = PICTURES[name].subarray(0, 70_001);
    const centre = Number.isNaN(values[0]) ? 0.5 : values[0];
    const base = bitsOf(1e-7);
    const [a, b] = [countBins(allOf(values), centre, base), binsPlain(allOf(values), centre, base)];
    expect(a.counts).toEqual(b.counts);
    expect([a.count, a.min, a.max]).toEqual([b.count, b.min, b.max]);
    expect(Math.abs(a.sum - b.sum)).toBeLessThan(1e-7 * Math.abs(b.sum) + 1e-12);
  });

  it('collect what lies in brackets, and add up what lies below a top', () => {
    const values = PICTURES['a sky with stars'];
    const brackets = [
      [0.0195, 0.0196],
      [0.03, 0.031],
    ] as const;
    const wanted = { brackets, most: N, centre: 0.02, top: 0.1 };
    const [a, b] = [collectInRanges(allOf(values), wanted), collectPlain(allOf(values), wanted)];
    expect(a.values).toEqual(b.values);
    expect(a.number).toBe(b.number);
    expect(a.sum / b.sum).toBeCloseTo(1, 9);
    expect(a.squares / b.squares).toBeCloseTo(1, 9);
  });
});
