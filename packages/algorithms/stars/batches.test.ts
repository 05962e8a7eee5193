import fc from 'fast-check';
import { expect, it } from 'vitest';
import { linearHistogram, equalBinsPlain } from '@owl-loom/image/kernels/linear-histogram';
import { randomFrom } from '@owl-loom/testing/random';
import { type Aperture, aperturePhotometry, aperturePhotometryAll } from './photometry';
import { shapeOf, shapesOf } from './shape';

/** Stars of several widths on noise, some side by side, with holes and a level that is not nought. */
function sky(width: number, height: number, seed: number, absent: number) {
  const random = randomFrom(seed);
  const plane = Float32Array.from({ length: width * height }, () => 0.2 + 0.01 * random.next());
  const stars = Array.from({ length: 25 }, () => ({
    x: random.next() * width,
    y: random.next() * height,
    top: 0.02 + random.next(),
    sigma: 0.8 + 2.4 * random.next(),
  }));
  for (const { x, y, top, sigma } of stars) {
    for (let j = Math.max(0, Math.floor(y - 12)); j < Math.min(height, y + 12); j++) {
      for (let i = Math.max(0, Math.floor(x - 12)); i < Math.min(width, x + 12); i++) {
        plane[j * width + i] += top * Math.exp(-((i - x) ** 2 + (j - y) ** 2) / (2 * sigma ** 2));
      }
    }
  }
  for (let i = 0; i < plane.length; i++) if (random.next() < absent) plane[i] = Number.NaN;
  return { plane, stars: stars.sort((a, b) => Math.round(a.y) - Math.round(b.y)) };
}

const sizes = [fc.integer({ min: 20, max: 90 }), fc.integer({ min: 20, max: 400 })] as const;
const absent = fc.constantFrom(0, 0, 0.001, 0.05);

it('the light of many stars is that of each to the last digit, at the border and beside holes too', () => {
  const apertures = fc.constantFrom<Aperture>(
    { radius: 2, inner: 5, outer: 9 },
    { radius: 4.2, inner: 7.8, outer: 13.2 },
    { radius: 6, inner: 9, outer: 15 },
    { radius: 12, inner: 13, outer: 14 },
  );
  let lights = 0;
  fc.assert(
    fc.property(...sizes, absent, apertures, fc.nat(9999), (width, height, holes, aperture, seed) => {
      const { plane, stars } = sky(width, height, seed, holes);
      const many = aperturePhotometryAll(plane, width, height, stars, aperture);
      expect(many).toEqual(stars.map(({ x, y }) => aperturePhotometry(plane, width, height, x, y, aperture)));
      lights += many.filter(Boolean).length;
    }),
    { numRuns: 60 },
  );
  expect(lights).toBeGreaterThan(300);
});

it('one value throughout has a sky of that value and no scatter', () => {
  const plane = new Float32Array(40 * 40).fill(-0.25);
  const [light] = aperturePhotometryAll(plane, 40, 40, [{ x: 20, y: 20 }], { radius: 3, inner: 5, outer: 9 });
  expect(light?.sky).toBe(-0.25);
  expect(light?.flux).toBeCloseTo(0, 12);
  expect(light?.fluxError).toBe(0);
});

it('the shapes of many peaks are that of each, at the border and beside holes too', () => {
  let shapes = 0;
  fc.assert(
    fc.property(...sizes, absent, fc.nat(9999), (width, height, holes, seed) => {
      const { plane, stars } = sky(width, height, seed, holes);
      const bumps = stars.map(({ x, y }) => ({ x: Math.floor(x), y: Math.floor(y), base: 0.205 }));
      const rising = bumps.sort((a, b) => a.y - b.y);
      const many = shapesOf(plane, width, height, rising);
      rising.forEach(({ x, y, base }, k) => {
        const one = shapeOf(plane, width, height, x, y, base);
        expect(many[k] === undefined).toBe(one === undefined);
        if (!one) return;
        shapes++;
        for (const key of ['x', 'y', 'long', 'short'] as const) expect(many[k]?.[key]).toBeCloseTo(one[key], 8);
      });
    }),
    { numRuns: 60 },
  );
  expect(shapes).toBeGreaterThan(300);
});

it('pixels are counted in equal bins as by plain counting', () => {
  const value = fc.oneof(fc.float({ min: -2, max: 3, noNaN: true }), fc.constantFrom(0, 1, Number.NaN));
  fc.assert(
    fc.property(
      fc.array(value, { maxLength: 300 }),
      fc.constantFrom([0, 1], [-0.3, 0.7], [0.5, 0.5]),
      fc.integer({ min: 1, max: 143 }),
      fc.boolean(),
      (list, [low, high], bins, keeps) => {
        const values = Float32Array.from(list);
        expect(linearHistogram(values, low, high, bins, keeps)).toEqual(equalBinsPlain(values, low, high, bins, keeps));
      },
    ),
    { numRuns: 300 },
  );
});
