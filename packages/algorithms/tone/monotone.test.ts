import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type CurvePoint, monotoneCubic } from './monotone';

const pointsOn = (steps: number) =>
  fc
    .uniqueArray(fc.tuple(fc.integer({ min: 0, max: steps }), fc.integer({ min: 0, max: steps })), {
      minLength: 2,
      maxLength: 9,
      selector: ([x]) => x,
    })
    .map((list) => [...list].sort((a, b) => a[0] - b[0]).map(([x, y]): CurvePoint => [x / steps, y / steps]));

const points = pointsOn(1000);

describe('a monotone cubic', () => {
  it('goes through its points, level before and after them', () => {
    fc.assert(
      fc.property(points, (list) => {
        const curve = monotoneCubic(list);
        for (const [x, y] of list) expect(curve(x)).toBeCloseTo(y, 12);
        expect(curve(-3)).toBe(list[0][1]);
        expect(curve(7)).toBe(list[list.length - 1][1]);
      }),
    );
  });

  it('rises where its points rise, falls where they fall, and never swings beyond two of them', () => {
    fc.assert(
      fc.property(points, (list) => {
        const curve = monotoneCubic(list);
        for (let i = 0; i < list.length - 1; i++) {
          const [[x0, y0], [x1, y1]] = [list[i], list[i + 1]];
          let before = y0;
          for (let k = 1; k <= 40; k++) {
            const y = curve(x0 + ((x1 - x0) * k) / 40);
            expect((y - before) * Math.sign(y1 - y0)).toBeGreaterThanOrEqual(-1e-12);
            if (y0 === y1) expect(y).toBeCloseTo(y0, 12);
            before = y;
          }
        }
      }),
    );
  });

  it('is smooth: its slope makes no jump at a point', () => {
    fc.assert(
      fc.property(pointsOn(20), (list) => {
        const curve = monotoneCubic(list);
        const h = 1e-7;
        for (const [x] of list.slice(1, -1)) {
          const [left, right] = [(curve(x) - curve(x - h)) / h, (curve(x + h) - curve(x)) / h];
          expect(Math.abs(left - right)).toBeLessThan(0.02 * (1 + Math.abs(left)));
        }
      }),
    );
  });

  it('is the straight line where its points lie on one', () => {
    const curve = monotoneCubic([
      [0, 0.1],
      [0.3, 0.31],
      [1, 0.8],
    ]);
    for (let x = 0; x <= 1; x += 0.01) expect(curve(x)).toBeCloseTo(0.1 + 0.7 * x, 12);
  });
});
