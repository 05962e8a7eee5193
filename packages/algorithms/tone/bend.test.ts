import fc from 'fast-check';
import { expect, it } from 'vitest';
import { LookupCurve } from './bend';
import { type CurvePoint, monotoneCubic } from './monotone';

/** Pieces of a curve's table. */
const PIECES = 16_384;

const x = fc.double({ min: 0, max: 1, noNaN: true });

it('a curve read from its table is the curve, corners and ends included', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 0, max: 40 }), { minLength: 2, maxLength: 6 }),
      fc.array(fc.integer({ min: 0, max: 100 }), { minLength: 6, maxLength: 6 }),
      fc.array(x, { minLength: 20, maxLength: 20 }),
      (places, heights, at) => {
        const points = places.sort((a, b) => a - b).map((p, i): CurvePoint => [p / 40, heights[i] / 100]);
        const f = monotoneCubic(points);
        // A straight piece lies off a curve by an eighth of its bend times the piece squared; a rising cubic bends by no more than 7.5 slopes.
        const bends = points.slice(1).map(([u, v], i) => (7.5 * Math.abs(v - points[i][1])) / (u - points[i][0]) ** 2);
        const bound = Math.max(...bends) / 8 / PIECES ** 2 + 1e-7;
        const ends = [points[0][0], points[points.length - 1][0]];
        const bend = new LookupCurve(f, ends);
        for (const v of [...at, ...ends, 0, 1, -0.5, 1.5, ends[0] + 1e-6, ends[1] - 1e-6])
          expect(Math.abs(bend.at(v) - f(Math.min(1, Math.max(0, v))))).toBeLessThan(bound);
      },
    ),
  );
});

it('what has no data stays so, plane by plane and in place', () => {
  const bend = new LookupCurve((v) => v * v);
  const plane = Float32Array.of(0.5, Number.NaN, 2, -1);
  bend.plane(plane, plane);
  expect([...plane]).toEqual([expect.closeTo(0.25, 6), Number.NaN, 1, 0]);
});
