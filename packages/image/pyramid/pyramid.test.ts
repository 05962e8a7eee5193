import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { largestCovered } from './coverage';
import { downsample2x, halvePlain, levelCount, rectAtLevel, levelSize } from './pyramid';
import { toFullSize, toLevel } from '../geometry/level-position';

describe('pyramid levels', () => {
  it('place their pixels in the middle of what they stand for', () => {
    for (let level = 0; level < 6; level++) {
      const n = 2 ** level;
      for (const x of [0, 1, 7]) {
        const mean = Array.from({ length: n }, (_, i) => x * n + i).reduce((a, b) => a + b, 0) / n;
        expect(toFullSize(x, level)).toBe(mean);
      }
    }
    fc.assert(
      fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), fc.integer({ min: 0, max: 8 }), (x, level) => {
        expect(toLevel(toFullSize(x, level), level)).toBeCloseTo(x, 6);
      }),
    );
  });

  it('keep the mean of a picture whose sides are even', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        (w, h, numbers) => {
          const plane = Float32Array.from({ length: 4 * w * h }, () => numbers.next().value as number);
          const half = downsample2x(plane, 2 * w, 2 * h);
          const mean = (values: Float32Array) => values.reduce((a, b) => a + b, 0) / values.length;
          expect(half.length).toBe(w * h);
          expect(mean(half)).toBeCloseTo(mean(plane), 5);
        },
      ),
    );
  });

  it('are in the kernels what they are in plain arithmetic, whatever the sides and the holes', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 23 }),
        fc.integer({ min: 1, max: 9 }),
        fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        (width, height, numbers) => {
          const next = () => numbers.next().value as number;
          const plane = Float32Array.from({ length: width * height }, () => (next() < 0.3 ? Number.NaN : next()));
          const [found, plain] = [downsample2x(plane, width, height), halvePlain(plane, width, height)];
          plain.forEach((v, i) => {
            if (Number.isNaN(v)) expect(found[i]).toBeNaN();
            else expect(found[i]).toBeCloseTo(v, 6);
          });
        },
      ),
    );
  });

  it('take the mean of what is there, and have nothing where nothing is', () => {
    const no = Number.NaN;
    expect([...downsample2x(Float32Array.from([1, no, no, no, 3, no, no, 8]), 4, 2)]).toEqual([2, 8]);
    expect(downsample2x(Float32Array.from([no, no, no, no]), 2, 2)[0]).toBeNaN();
    expect([...downsample2x(Float32Array.from([1, 2, 3, 4, 5, 6, 7, 8, 9]), 3, 3)]).toEqual([3, 4.5, 7.5, 9]);
  });

  it('end where one small tile holds all', () => {
    expect(levelCount(256, 200)).toBe(1);
    expect(levelCount(1800, 1200)).toBe(4);
    expect(levelSize(1800, 3)).toBe(225);
    expect(rectAtLevel({ x: 5, y: 8, width: 3, height: 8 }, 2)).toEqual({ x: 1, y: 2, width: 1, height: 2 });
  });
});

describe('the largest covered rectangle', () => {
  it('is as large as any that a plain search finds', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }),
        fc.integer({ min: 1, max: 7 }),
        fc.infiniteStream(fc.boolean()),
        (width, height, holes) => {
          const plane = Float32Array.from({ length: width * height }, () =>
            holes.next().value && holes.next().value ? Number.NaN : 1,
          );
          fc.pre(plane.some((v) => v === 1));
          let best = 0;
          for (let y0 = 0; y0 < height; y0++)
            for (let x0 = 0; x0 < width; x0++)
              for (let y1 = y0; y1 < height; y1++)
                for (let x1 = x0; x1 < width; x1++) {
                  let full = true;
                  for (let y = y0; y <= y1; y++)
                    for (let x = x0; x <= x1; x++) if (plane[y * width + x] !== 1) full = false;
                  if (full) best = Math.max(best, (x1 - x0 + 1) * (y1 - y0 + 1));
                }
          const found = largestCovered([{ rect: { x: 0, y: 0, width, height }, planes: [plane] }]);
          expect(found.width * found.height).toBe(best);
          for (let y = found.y; y < found.y + found.height; y++)
            for (let x = found.x; x < found.x + found.width; x++) expect(plane[y * width + x]).toBe(1);
        },
      ),
    );
  });

  it('is refused where nothing is covered by all', () => {
    const rect = { x: 0, y: 0, width: 2, height: 1 };
    const a = { rect, planes: [Float32Array.from([1, Number.NaN])] };
    const b = { rect, planes: [Float32Array.from([Number.NaN, 1])] };
    expect(() => largestCovered([a, b])).toThrow(/The strands in use have no common area/);
  });
});
