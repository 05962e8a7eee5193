import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { signedDistanceToEllipse, signedDistanceToPolygon } from './distance';
import { type Paint, paintKernel, type Shape } from './paint';

const laid = (list: readonly Paint[], base = 0, [width, height] = [80, 60], level = 0, x = 0, y = 0): Float32Array => {
  const rect = { x, y, width, height };
  const out = { rect, planes: [new Float32Array(width * height)] };
  paintKernel(list, level)([{ rect, planes: [new Float32Array(width * height).fill(base)] }], out, () => undefined);
  return out.planes[0];
};
const reveal = (shape: Shape, rest: Partial<Pick<Paint, 'soft' | 'strength' | 'mode'>> = {}): Paint => ({
  ...shape,
  mode: 'reveal',
  strength: 1,
  soft: 0,
  ...rest,
});
const at = (values: Float32Array, x: number, y: number, width = 80) => values[y * width + x];

const stroke: Shape = {
  shape: 'stroke',
  radius: 6,
  points: [
    [20, 20],
    [50, 35],
    [50, 50],
  ],
};
const ellipse: Shape = { shape: 'ellipse', x: 10, y: 20, width: 50, height: 24 };
const polygon: Shape = {
  shape: 'polygon',
  points: [
    [10, 10],
    [70, 15],
    [40, 50],
  ],
};
const ramp: Shape = { shape: 'ramp', from: [20, 30], to: [60, 30] };

describe('paint', () => {
  it('falls by a smoothstep over its soft pixels, centred on the rim', () => {
    const disc = laid([reveal({ shape: 'stroke', radius: 15, points: [[40, 30]] }, { soft: 10 })]);
    for (let d = 0; d <= 25; d++) {
      const t = Math.min(1, Math.max(0, (15 - d) / 10 + 0.5));
      expect(at(disc, 40 + d, 30)).toBeCloseTo(3 * t * t - 2 * t ** 3, 6);
    }
  });

  it('without softness is all or nothing, a stroke along its whole way', () => {
    const values = laid([reveal(stroke)]);
    for (let y = 0; y < 60; y++)
      for (let x = 0; x < 80; x++) {
        // Points close together along the way, apart from the kernel's own arithmetic.
        const near = [...Array(601).keys()].some((k) => {
          const t = k / 300;
          const [px, py] = t <= 1 ? [20 + 30 * t, 20 + 15 * t] : [50, 35 + 15 * (t - 1)];
          return Math.hypot(x - px, y - py) < 5.9;
        });
        if (near) expect(at(values, x, y)).toBe(1);
        expect([0, 1]).toContain(at(values, x, y));
      }
    expect(values.reduce((sum, v) => sum + v, 0)).toBeGreaterThan(500);
    expect(at(values, 30, 45)).toBe(0);
  });

  it('is as thick as the pen was pressed', () => {
    const values = laid([
      reveal({
        shape: 'stroke',
        radius: 10,
        points: [
          [10, 30, 0.2],
          [70, 30, 1],
        ],
      }),
    ]);
    const thick = (x: number) => [...Array(60).keys()].filter((y) => at(values, x, y) === 1).length;
    expect(thick(12)).toBeLessThan(7);
    expect(thick(40)).toBeGreaterThan(10);
    expect(thick(40)).toBeLessThan(15);
    expect(thick(69)).toBeGreaterThan(18);
  });

  it('of a ramp is full where it begins and nothing where it ends', () => {
    const values = laid([reveal(ramp)]);
    expect(at(values, 5, 3)).toBe(1);
    expect(at(values, 20, 59)).toBe(1);
    expect(at(values, 40, 10)).toBeCloseTo(0.5, 6);
    expect(at(values, 50, 10)).toBeCloseTo(3 * 0.25 ** 2 - 2 * 0.25 ** 3, 6);
    expect(at(values, 60, 10)).toBe(0);
  });

  it('hides and reveals in the order of the list', () => {
    const hide = reveal(ellipse, { mode: 'hide', strength: 0.5 });
    const show = reveal(ellipse, { strength: 0.4 });
    expect(at(laid([hide], 0.8), 35, 32)).toBeCloseTo(0.4, 6);
    expect(at(laid([hide, show], 0.8), 35, 32)).toBeCloseTo(0.4 + 0.6 * 0.4, 6);
    expect(at(laid([show, hide], 0.8), 35, 32)).toBeCloseTo((0.8 + 0.2 * 0.4) / 2, 6);
    expect(at(laid([hide, show], 0.8), 5, 5)).toBe(Math.fround(0.8));
  });

  it('reveals where there is no data as where nothing was, and hides nothing into being', () => {
    expect(at(laid([reveal(ellipse, { strength: 0.25 })], Number.NaN), 35, 32)).toBe(0.25);
    expect(at(laid([reveal(ellipse, { mode: 'hide' })], Number.NaN), 35, 32)).toBeNaN();
  });

  it('is the same in any window as in the whole', () => {
    const list = [
      reveal(stroke, { soft: 5 }),
      reveal(ellipse, { mode: 'hide', soft: 9 }),
      reveal(polygon, { soft: 2 }),
      reveal(ramp),
    ];
    for (const level of [0, 1, 2]) {
      const whole = laid(list, 0.3, [80, 60], level);
      fc.assert(
        fc.property(
          fc.nat(70),
          fc.nat(50),
          fc.integer({ min: 1, max: 9 }),
          fc.integer({ min: 1, max: 9 }),
          (x, y, w, h) => {
            const part = laid(list, 0.3, [w, h], level, x, y);
            for (let j = 0; j < h && y + j < 60; j++)
              for (let i = 0; i < w && x + i < 80; i++) expect(part[j * w + i]).toBe(at(whole, x + i, y + j));
          },
        ),
        { numRuns: 40 },
      );
    }
  });

  it.each([stroke, ellipse, polygon])(
    'on a coarse level is nearly the mean of the pixels of full size: $shape',
    (shape) => {
      const full = laid([reveal(shape, { soft: 4 })]);
      const coarse = laid([reveal(shape, { soft: 4 })], 0, [40, 30], 1);
      let worst = 0;
      for (let y = 0; y < 30; y++)
        for (let x = 0; x < 40; x++) {
          const mean =
            (at(full, 2 * x, 2 * y) +
              at(full, 2 * x + 1, 2 * y) +
              at(full, 2 * x, 2 * y + 1) +
              at(full, 2 * x + 1, 2 * y + 1)) /
            4;
          worst = Math.max(worst, Math.abs(mean - at(coarse, x, y, 40)));
        }
      // At a sharp corner the four pixels differ most.
      expect(worst).toBeLessThan(0.1);
    },
  );
});

describe('how far inside', () => {
  it('an ellipse: the nearest of many points of its rim', () => {
    const rim = (a: number, b: number) =>
      Array.from({ length: 4000 }, (_, k) => [a * Math.cos((k * Math.PI) / 2000), b * Math.sin((k * Math.PI) / 2000)]);
    fc.assert(
      fc.property(
        fc.double({ min: 2, max: 100, noNaN: true }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        fc.double({ min: -150, max: 150, noNaN: true }),
        fc.double({ min: -150, max: 150, noNaN: true }),
        (a, by, u, v) => {
          const b = a * by;
          const nearest = Math.min(...rim(a, b).map(([x, y]) => Math.hypot(x - u, y - v)));
          const found = signedDistanceToEllipse(u, v, a, b);
          expect(Math.abs(found)).toBeGreaterThan(nearest - 0.02 * Math.max(a, b) - 1e-6);
          expect(Math.abs(found)).toBeLessThan(nearest + 0.02 * Math.max(a, b));
          expect(found >= 0).toBe((u / a) ** 2 + (v / b) ** 2 <= 1);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('a circle is its radius less the distance', () => {
    expect(signedDistanceToEllipse(3, 4, 10, 10)).toBeCloseTo(5, 9);
    expect(signedDistanceToEllipse(0, 0, 7, 7)).toBeCloseTo(7, 9);
    expect(signedDistanceToEllipse(-30, 0, 10, 10)).toBeCloseTo(-20, 9);
  });

  it('a polygon, and what is crossed twice is outside', () => {
    const square = [
      [0, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ] as const;
    expect(signedDistanceToPolygon(5, 4, square)).toBeCloseTo(4, 9);
    expect(signedDistanceToPolygon(13, 14, square)).toBeCloseTo(-5, 9);
    const bow = [
      [0, 0],
      [10, 10],
      [10, 0],
      [0, 10],
    ] as const;
    expect(signedDistanceToPolygon(2, 5, bow)).toBeGreaterThan(0);
    expect(signedDistanceToPolygon(5, 2, bow)).toBeLessThan(0);
  });
});
