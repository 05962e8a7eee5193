import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyShare, inscribed, isInTurned, sourceOfTurned, uprightWithin } from './turned';

const side = fc.integer({ min: 20, max: 4000 });
const angle = fc.double({ min: -44, max: 44, noNaN: true });

describe('a picture that is turned and cut', () => {
  it('has no empty corners in the largest upright rectangle, and would have in a larger one', () =>
    fc.assert(
      fc.property(side, side, angle, (width, height, degrees) => {
        const data = { x: 7, y: -3, width, height };
        const rect = uprightWithin(data, degrees);
        expect(
          emptyShare(rect, degrees, { ...data, x: data.x - 1, y: data.y - 1, width: width + 2, height: height + 2 }),
        ).toBe(0);
        const best = inscribed(data, degrees);
        if (Math.abs(degrees) < 1 || Math.min(best.width, best.height) < 20) return;
        const wider = { x: rect.x, y: rect.y, width: 1.15 * rect.width, height: 1.15 * rect.height };
        const middle = { ...wider, x: rect.x - 0.075 * rect.width, y: rect.y - 0.075 * rect.height };
        expect(emptyShare(middle, degrees, data)).toBeGreaterThan(0);
      }),
    ));

  it('is the formula where it is known: two degrees of 1500 x 1000', () => {
    const { width, height } = inscribed({ width: 1500, height: 1000 }, -2);
    const [c, s] = [Math.cos(Math.PI / 90), Math.sin(Math.PI / 90)];
    // Turned, its corners touch all four sides.
    expect(width * c + height * s).toBeCloseTo(1500, 6);
    expect(width * s + height * c).toBeCloseTo(1000, 6);
    expect(inscribed({ width: 1500, height: 1000 }, 0)).toEqual({ width: 1500, height: 1000 });
  });

  it('is made of the pixels that it covers', () =>
    fc.assert(
      fc.property(angle, fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 200 }), (degrees, x, y) => {
        const rect = { x, y, width: 200, height: 120 };
        const frame = { x: 0, y: 0, width: 600, height: 400 };
        const source = sourceOfTurned(rect, degrees, frame);
        const isInside = isInTurned(rect, degrees);
        for (let v = 0; v < frame.height; v += 7)
          for (let u = 0; u < frame.width; u += 7)
            if (isInside(u, v))
              expect(
                u >= source.x && v >= source.y && u < source.x + source.width && v < source.y + source.height,
              ).toBe(true);
      }),
    ));
});
