import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linearToLab, lightnessOf, labToLinear } from './lab';
import { linearToSrgb, srgbToLinear } from './srgb';

const unit = fc.double({ min: -0.3, max: 1.4, noNaN: true });

describe('sRGB', () => {
  it.each([
    [0, 0],
    [0.0031308, 0.04045],
    [0.21404114048223255, 0.5],
    [1, 1],
    // Eighteen hundredths of white, the grey card.
    [0.18, 0.4613561295],
  ])('of %f light is %f', (light, code) => {
    expect(linearToSrgb(light)).toBeCloseTo(code, 5);
    expect(srgbToLinear(code)).toBeCloseTo(light, 5);
  });

  it('goes there and back, and is odd about nought', () => {
    fc.assert(
      fc.property(unit, (v) => {
        expect(linearToSrgb(srgbToLinear(v))).toBeCloseTo(v, 6);
        expect(srgbToLinear(-v)).toBeCloseTo(-srgbToLinear(v), 12);
      }),
    );
  });
});

describe('L*a*b*', () => {
  // Values that are printed in many places, to the digits given there.
  it.each([
    [
      [1, 1, 1],
      [100, 0, 0],
    ],
    [
      [0, 0, 0],
      [0, 0, 0],
    ],
    [
      [1, 0, 0],
      [53.24, 80.09, 67.2],
    ],
    [
      [0, 1, 0],
      [87.73, -86.18, 83.18],
    ],
    [
      [0, 0, 1],
      [32.3, 79.19, -107.86],
    ],
    [
      [1, 1, 0],
      [97.14, -21.55, 94.48],
    ],
  ] as const)('of light %s is %s', (light, lab) => {
    linearToLab(light).forEach((v, i) => expect(Math.abs(v - lab[i])).toBeLessThan(0.02));
  });

  it('goes there and back', () => {
    fc.assert(
      fc.property(fc.tuple(unit, unit, unit), (light) => {
        labToLinear(linearToLab(light)).forEach((v, i) => expect(v).toBeCloseTo(light[i], 6));
      }),
    );
  });

  it('of a grey has no colour, and the lightness of its light', () => {
    fc.assert(
      fc.property(unit, (v) => {
        const [l, a, b] = linearToLab([v, v, v]);
        expect(l).toBeCloseTo(lightnessOf(v), 6);
        expect(Math.hypot(a, b)).toBeLessThan(1e-4);
      }),
    );
  });
});
