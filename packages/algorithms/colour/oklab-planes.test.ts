import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { labPlanes, labPlanesPlain } from './oklab-planes';
import { linearToOklab } from './oklch';
import { srgbToLinear } from './srgb';
import { atan2InTurns } from './tables';

const number = fc.double({ min: -0.05, max: 1.4, noNaN: true });
const pixel = fc.tuple(number, number, number);

describe('OKLab of an image', () => {
  it.each(['linear', 'stretched'] as const)('is what was published, pixel by pixel, of a %s one', (domain) => {
    fc.assert(
      fc.property(fc.array(pixel, { minLength: 1, maxLength: 70 }), fc.nat(99), (pixels, hole) => {
        const planes = [0, 1, 2].map((p) => Float32Array.from(pixels, (own) => own[p]));
        planes[hole % 3][hole % pixels.length] = Number.NaN;
        for (const { l, a, b } of [labPlanes({ planes }, domain), labPlanesPlain({ planes }, domain)]) {
          pixels.forEach((_, i) => {
            const own = planes.map((plane) => plane[i]);
            if (own.some(Number.isNaN)) {
              expect([l[i], a[i], b[i]]).toEqual([Number.NaN, Number.NaN, Number.NaN]);
              return;
            }
            const light = domain === 'linear' ? own : own.map((v) => srgbToLinear(v));
            linearToOklab(light as [number, number, number]).forEach((v, k) =>
              expect(Math.abs([l, a, b][k][i] - v)).toBeLessThan(2e-6),
            );
          });
        }
      }),
    );
  });

  it('of a mono image is grey, and of great numbers stays in proportion', () => {
    const { l, a } = labPlanes({ planes: [Float32Array.from([0, 0.125, 1, 64_000])] }, 'linear');
    [0, 0.5, 1, 40].forEach((v, i) => expect(l[i]).toBeCloseTo(v, 4));
    a.forEach((v, i) => expect(Math.abs(v)).toBeLessThan(1e-6 * Math.max(1, l[i])));
  });
});

it('a turn is that of the arctangent, all the way round', () => {
  const side = fc.double({ min: -3, max: 3, noNaN: true });
  fc.assert(
    fc.property(side, side, (x, y) => {
      fc.pre(Math.hypot(x, y) > 1e-200);
      const wanted = Math.atan2(y, x) / (2 * Math.PI);
      const off = Math.abs(atan2InTurns(x, y) - (wanted < 0 ? wanted + 1 : wanted));
      expect(Math.min(off, 1 - off)).toBeLessThan(1e-8);
      expect(atan2InTurns(x, y)).toBeLessThanOrEqual(1);
    }),
  );
  expect([
    atan2InTurns(1, 0),
    atan2InTurns(0, 1),
    atan2InTurns(-1, 0),
    atan2InTurns(0, -1),
    atan2InTurns(0, 0),
  ]).toEqual([0, 0.25, 0.5, 0.75, 0]);
});
