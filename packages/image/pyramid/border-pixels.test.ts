import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { setNoData, borderNoData, borderZeros } from './border-pixels';

const plane = (rows: string[]): Float32Array => Float32Array.from(rows.join(''), (c) => (c === '.' ? 0 : 1));

describe('zeros at the edge', () => {
  it('are those that are joined to it, not those inside', () => {
    const rows = ['..####', '.#####', '##..##', '######', '####..', '###.#.'];
    const { mask, count } = borderZeros([plane(rows)], 6, 6);
    expect(count).toBe(7);
    expect([...mask.subarray(0, 12)]).toEqual([1, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0]);
    expect(mask[2 * 6 + 2]).toBe(0);
  });

  it('are zero in every plane', () => {
    const [a, b] = [plane(['..#', '###']), plane(['.##', '###'])];
    expect(borderZeros([a, b], 3, 2).count).toBe(1);
    setNoData([a, b], borderZeros([a, b], 3, 2).mask);
    expect([a[0], b[0], a[1]]).toEqual([Number.NaN, Number.NaN, 0]);
  });

  it('of a picture without zeros are none, of an empty one all', () => {
    expect(borderZeros([new Float32Array(20).fill(2)], 5, 4).count).toBe(0);
    expect(borderZeros([new Float32Array(20)], 5, 4).count).toBe(20);
  });

  it('are the same whichever way the picture is turned', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(0, 0, 1), { minLength: 42, maxLength: 42 }), (values) => {
        const a = Float32Array.from(values);
        const turned = Float32Array.from({ length: 42 }, (_, i) => a[(i % 6) * 7 + Math.floor(i / 6)]);
        expect(borderZeros([a], 7, 6).count).toBe(borderZeros([turned], 6, 7).count);
      }),
    );
  });

  it('are those that a walk from neighbour to neighbour reaches', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(0, 0, 1), { minLength: 90, maxLength: 90 }), (values) => {
        const reached = new Set<number>();
        const walk = (x: number, y: number): void => {
          if (x < 0 || y < 0 || x >= 10 || y >= 9 || values[y * 10 + x] !== 0 || reached.has(y * 10 + x)) return;
          reached.add(y * 10 + x);
          for (const [dx, dy] of [
            [1, 0],
            [-1, 0],
            [0, 1],
            [0, -1],
          ])
            walk(x + dx, y + dy);
        };
        for (let y = 0; y < 9; y++) for (let x = 0; x < 10; x++) if (x % 9 === 0 || y % 8 === 0) walk(x, y);
        const zeros = borderZeros([Float32Array.from(values)], 10, 9);
        const gaps = borderNoData([Float32Array.from(values, (v) => (v === 0 ? Number.NaN : v))], 10, 9);
        expect(zeros.count).toBe(reached.size);
        expect([...zeros.mask.keys()].filter((i) => zeros.mask[i] === 1)).toEqual([...reached].sort((a, b) => a - b));
        expect(gaps).toEqual(zeros);
      }),
    );
  });
});
