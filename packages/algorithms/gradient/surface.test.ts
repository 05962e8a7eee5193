import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cubic } from '@owl-loom/image/kernels/grid';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { randomFrom } from '@owl-loom/testing/random';
import { fitPolynomial, fitSpline, type Model, modelAt } from './model';
import { removeSurface, rowOffPlain } from './surface';

const [width, height] = [600, 420];
const frame = { x: 0, y: 0, width, height };
const places = Array.from({ length: 30 }, (_, k) => ({ x: (k % 6) * 110 + 20, y: Math.floor(k / 6) * 95 + 15 }));

/** A window of a surface: what is left when it is taken off nothing, the other way round. */
function surfaceIn(model: Model, rect: Rect, level: number): Float32Array {
  const out = new Float32Array(rect.width * rect.height);
  removeSurface(model, rect, level, new Float32Array(out.length), { kept: 0, divides: false }, out);
  return out.map((v) => -v);
}

describe('surfaces', () => {
  const numbers = fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 6, maxLength: 6 });

  it('give a polynomial back from its own values, at every pixel', () => {
    fc.assert(
      fc.property(numbers, ([a, b, c, d, e, f]) => {
        const truth = (x: number, y: number) =>
          a + (b * x + c * y) / 600 + (d * x * x + e * x * y + f * y * y) / 360_000;
        const model = fitPolynomial(
          places.map((p) => ({ ...p, value: truth(p.x, p.y) })),
          2,
          frame,
        );
        const window = surfaceIn(model, { x: 100, y: 50, width: 37, height: 29 }, 0);
        window.forEach((v, i) => expect(v).toBeCloseTo(truth(100 + (i % 37), 50 + Math.floor(i / 37)), 5));
      }),
      { numRuns: 20 },
    );
  });

  it('without smoothing a spline goes through its samples, with much of it becomes the low polynomial under it', () => {
    const random = randomFrom(3);
    const samples = places.map((p) => ({ ...p, value: 0.1 + 0.0002 * p.x + 0.01 * random.normal() }));
    const stiff = fitSpline(samples, 1e6, frame);
    const flat = fitPolynomial(samples, 2, frame);
    for (const s of samples) {
      expect(modelAt(fitSpline(samples, 0, frame), s.x, s.y)).toBeCloseTo(s.value, 8);
      expect(modelAt(stiff, s.x, s.y)).toBeCloseTo(modelAt(flat, s.x, s.y), 3);
    }
  });

  it('are one surface, whatever the window and the level', () => {
    const model = fitSpline(
      places.map((p) => ({ ...p, value: Math.sin(p.x / 90) * Math.cos(p.y / 70) })),
      0.1,
      frame,
    );
    const whole = surfaceIn(model, frame, 0);
    const part = surfaceIn(model, { x: 211, y: 130, width: 50, height: 40 }, 0);
    part.forEach((v, i) => expect(v).toBeCloseTo(whole[(130 + Math.floor(i / 50)) * width + 211 + (i % 50)], 6));
    const half = surfaceIn(model, { x: 0, y: 0, width: 300, height: 210 }, 1);
    expect(half[100 * 300 + 120]).toBeCloseTo((whole[200 * width + 240] + whole[201 * width + 241]) / 2, 3);
  });
});

describe('a surface taken off a row', () => {
  it('is the same by SIMD as in plain numbers: any place, any level, holes, subtracted or divided out', () => {
    fc.assert(
      fc.property(
        fc.nat(9999),
        fc.integer({ min: 0, max: 7 }),
        fc.integer({ min: 1, max: 9000 }),
        fc.integer({ min: 1, max: 3 }),
        fc.boolean(),
        (seed, level, length, height, divides) => {
          const random = randomFrom(seed);
          const model = fitSpline(
            places.map((p) => ({ ...p, value: random.next() - 0.1 })),
            0.1,
            frame,
          );
          const rect = { x: Math.floor(900 * random.next()) - 300, y: 7, width: length, height };
          const source = Float32Array.from({ length: length * height }, () =>
            random.next() < 0.02 ? Number.NaN : random.next(),
          );
          const taking = { kept: 0.3, divides };
          const out = new Float32Array(source.length);
          removeSurface(model, rect, level, source, taking, out);
          const unit = 2 ** level;
          for (let y = 0; y < height; y++) {
            const py = (rect.y + y + 0.5) * unit - 0.5;
            // The row's lattice, worked out anew from the model's own values.
            const u0 = ((rect.x + 0.5) * unit - 0.5) / 32;
            const v = py / 32;
            const [x0, y0] = [Math.floor(u0) - 1, Math.floor(v) - 1];
            const columns = Math.floor(u0 + ((length - 1) * unit) / 32) + 3 - x0;
            const weights = cubic(v - Math.floor(v));
            const lattice = Float64Array.from({ length: columns }, (_, c) =>
              weights.reduce((sum, w, k) => sum + w * modelAt(model, 32 * (x0 + c), 32 * (y0 + k)), 0),
            );
            const plain = new Float32Array(length);
            rowOffPlain(
              { lattice, u0: u0 - x0, du: unit / 32 },
              source.subarray(y * length, (y + 1) * length),
              taking,
              plain,
            );
            for (let x = 0; x < length; x++) {
              const own = out[y * length + x];
              expect(Number.isNaN(own)).toBe(Number.isNaN(plain[x]));
              if (own === own)
                expect(Math.abs(own - plain[x])).toBeLessThanOrEqual(1e-6 * Math.max(1, Math.abs(plain[x])));
            }
          }
        },
      ),
      { numRuns: 30 },
    );
  });
});
