import fc from 'fast-check';
import { expect, it } from 'vitest';
import { toDisplayP3 } from './p3';

const one = (r: number, g: number, b: number): number[] => {
  const planes = [r, g, b].map((v) => Float32Array.of(v));
  toDisplayP3(planes);
  return planes.map(([v]) => v);
};

it('greys stay, and what sRGB can show lies within the wider primaries', () => {
  const level = fc.double({ min: 0, max: 1, noNaN: true });
  fc.assert(
    fc.property(level, level, level, (r, g, b) => {
      for (const v of one(r, g, b)) {
        expect(v).toBeGreaterThan(-1e-6);
        expect(v).toBeLessThan(1 + 1e-6);
      }
      for (const v of one(g, g, g)) expect(v).toBeCloseTo(g, 5);
    }),
  );
});

it('sRGB red, green and blue are the colours that Display P3 has for them', () => {
  // CSS Color Module Level 4: color(srgb 1 0 0) is color(display-p3 0.9175 0.2003 0.1386), and so on.
  expect(one(1, 0, 0)).toEqual([0.9175, 0.2003, 0.1386].map((v) => expect.closeTo(v, 3)));
  expect(one(0, 1, 0)).toEqual([0.4584, 0.9853, 0.2983].map((v) => expect.closeTo(v, 3)));
  expect(one(0, 0, 1)).toEqual([0, 0, 0.9596].map((v) => expect.closeTo(v, 3)));
});

it('no data stays', () => {
  expect(one(Number.NaN, 0.2, 0.3).every(Number.isNaN)).toBe(true);
});
