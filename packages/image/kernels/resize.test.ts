import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { resize } from './resize';

const made = (width: number, height: number, of: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width)));

/** A plane of another size. */
function sized(plane: Float32Array, from: readonly [number, number], to: readonly [number, number]): Float32Array {
  const out = new Float32Array(to[0] * to[1]);
  resize(plane, from, to, out);
  return out;
}

describe('a plane of another size', () => {
  it('is the same where the size stays', () => {
    const plane = made(31, 17, (x, y) => Math.sin(3 * x) + Math.cos(5 * y));
    sized(plane, [31, 17], [31, 17]).forEach((v, i) => expect(v).toBeCloseTo(plane[i], 6));
  });

  it('keeps an even plane even and a slope a slope, whichever way it goes', () => {
    const size = fc.integer({ min: 12, max: 60 });
    fc.assert(
      fc.property(size, size, size, size, (w, h, toW, toH) => {
        const slope = made(w, h, (x, y) => (x + 0.5) / w + (2 * (y + 0.5)) / h);
        const out = sized(slope, [w, h], [toW, toH]);
        for (let y = 0; y < toH; y++) {
          for (let x = 0; x < toW; x++) {
            // At the edges there is nothing beyond to weigh against.
            const [u, v] = [(x + 0.5) / toW, (y + 0.5) / toH];
            const rim = 3.5 * Math.max(1 / w, 1 / h, 1 / toW, 1 / toH);
            if (Math.min(u, v, 1 - u, 1 - v) > rim) expect(out[y * toW + x]).toBeCloseTo(u + 2 * v, 2);
          }
        }
      }),
      { numRuns: 40 },
    );
  });

  it('keeps the light of a star as it shrinks, and makes no dark rings', () => {
    const star = made(200, 160, (x, y) => 0.1 + Math.exp(-((x - 101) ** 2 + (y - 79) ** 2) / (2 * 4 ** 2)));
    const out = sized(star, [200, 160], [100, 80]);
    const light = (plane: Float32Array) => plane.reduce((sum, v) => sum + v - 0.1, 0);
    expect(light(out) * 4).toBeCloseTo(light(star), 0);
    expect(Math.min(...out)).toBeGreaterThanOrEqual(0.1 - 1e-6);
  });

  it('does not let what is finer than its pixels through as something coarser', () => {
    const fine = made(240, 24, (x) => 0.5 + 0.5 * Math.cos(Math.PI * x * 0.95));
    const out = sized(fine, [240, 24], [80, 8]);
    for (let x = 6; x < 74; x++) expect(Math.abs(out[4 * 80 + x] - 0.5)).toBeLessThan(0.04);
  });

  it('keeps holes where they are, and does not let them spoil what is beside', () => {
    const plane = made(60, 60, (x, y) => (x < 20 && y < 20 ? Number.NaN : 0.3));
    const out = sized(plane, [60, 60], [30, 30]);
    expect(out[5 * 30 + 5]).toBeNaN();
    expect(out.filter(Number.isNaN)).toHaveLength(100);
    for (const v of out) if (!Number.isNaN(v)) expect(v).toBeCloseTo(0.3, 6);
  });
});
