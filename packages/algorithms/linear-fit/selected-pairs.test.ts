import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { planeStatistics } from '@owl-loom/image/stats/plane-statistics';
import { addNoise, scene } from '@owl-loom/testing/random';
import { SelectedPairs } from './selected-pairs';
import { sumsNearLineReference } from './line-corridor';
import { PairSums } from './pairs';

const [width, height] = [310, 240];
const of = scene(7, width, height);
const holed = (plane: Float32Array) => plane.map((v, i) => (i % 97 === 0 || i % width < 9 ? Number.NaN : v));
const input = {
  target: holed(addNoise(of, 0, 1, 0.001, 1)),
  reference: addNoise(of, 0.01, 2, 0.002, 2).map((v) => Math.min(v, 0.3)),
  width,
  height,
};

/** Rows begin and end anywhere, as those of images that were turned do; some count as a whole, some not at all, a few have holes. */
const tilted = {
  ...input,
  target: addNoise(of, 0, 1, 0.001, 1).map((v, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const inside = y > 200 || (x >= y - 120 && x < width + 90 - y && y !== 57);
    return inside && !(y % 50 === 7 && x === 140) ? v : Number.NaN;
  }),
  reference: addNoise(of, 0.01, 2, 0.002, 2).map((v, i) => (i % width > 302 && i % 5 > 1 ? Number.NaN : v)),
};

/** Indices of the pixels that count, one by one. */
const counted = (pairs: SelectedPairs): number[] =>
  Array.from({ length: width * height }, (_, i) => i).filter((i) => pairs.countsAt(i));

describe('the pixels that count in a fit', () => {
  it.each([
    ['all', {}],
    ['those of a region', { region: { x: 33, y: 21, width: 150, height: 77 } }],
    ['those of a range', { low: 0.02, high: 0.2 }],
    ['a region that reaches beyond the picture', { region: { x: -20, y: 200, width: 90, height: 90 } }],
    ['those of tilted images', tilted],
    ['those of a part of tilted images', { ...tilted, region: { x: 61, y: 5, width: 249, height: 230 } }],
    ['those of a narrow part', { ...tilted, region: { x: 100, y: 0, width: 3, height: 240 } }],
  ])('%s, are the same one by one and streamed', (_, extra) => {
    const pairs = new SelectedPairs({ ...input, ...extra });
    const indices = counted(pairs);
    expect(pairs.count).toBe(indices.length);
    for (const which of ['target', 'reference'] as const) {
      const left = Float32Array.from(indices, (i) => pairs.input[which][i]);
      const [streamed, listed] = [planeStatistics(pairs.side(which), [0.1, 0.9]), planeStatistics(left, [0.1, 0.9])];
      expect(streamed.count).toBe(listed.count);
      expect(streamed.quantiles).toEqual(listed.quantiles);
    }
  });

  it('are summed about levels, and all together, as plain arithmetic sums them', () => {
    const pairs = new SelectedPairs(tilted);
    const [u, v] = [
      { level: 0.01, top: 0.2 },
      { level: 0.03, top: 0.5 },
    ];
    const { target, reference, all } = pairs.squares(u, v);
    const plain = new PairSums();
    const squares = { target: 0, reference: 0 };
    for (const i of counted(pairs)) {
      const [x, y] = [tilted.target[i], tilted.reference[i]];
      plain.add(x, y);
      if (x <= u.top) squares.target += (x - u.level) ** 2;
      if (y <= v.top) squares.reference += (y - v.level) ** 2;
    }
    expect(all.n).toBe(plain.n);
    for (const sum of ['x', 'y', 'xx', 'xy', 'yy'] as const) expect(all[sum] / plain[sum]).toBeCloseTo(1, 6);
    const total = (sums: Float64Array) => sums.reduce((a, b) => a + b);
    expect(total(target.sums) / squares.target).toBeCloseTo(1, 6);
    expect(total(reference.sums) / squares.reference).toBeCloseTo(1, 6);
  });

  it('leave out what is cut off at the top of either', () => {
    const pairs = new SelectedPairs(input);
    expect(pairs.ranges[3]).toBeLessThan(0.3);
    expect(counted(pairs).every((i) => input.reference[i] < 0.3)).toBe(true);
  });

  it('are summed near a line as plain arithmetic sums them, tile by tile and in all', () => {
    const pairs = new SelectedPairs(input);
    const origin = { x: 0.02, y: 0.05 };
    fc.assert(
      fc.property(
        fc.double({ min: 0.0005, max: 0.1, noNaN: true }),
        fc.double({ min: 1.5, max: 2.5, noNaN: true }),
        fc.double({ min: 0, max: 0.3, noNaN: true }),
        (reach, b, widening) => {
          const spec = { line: { a: 0.0003, b }, centre: 0.0001, reach, widening };
          const { total, tiles } = pairs.sumsNearLine(spec, origin, 1);
          const plain = new PairSums();
          sumsNearLineReference(pairs, spec, origin, 0, width * height, plain);
          // A pair that lies on the rim to the last digit may fall to either side.
          expect(Math.abs(total.n - plain.n)).toBeLessThanOrEqual(3);
          const within = 1e-4 * Math.sqrt(plain.xx * plain.yy);
          expect(Math.abs(total.xy - plain.xy)).toBeLessThan(within + 0.01);
          expect(tiles.reduce((sum, tile) => sum + tile.n, 0)).toBe(total.n);
        },
      ),
      { numRuns: 20 },
    );
  });
});
