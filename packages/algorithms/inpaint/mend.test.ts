import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { detectStarField } from '../stars/field';
import { medianOfList } from '@owl-loom/image/stats/median';
import { randomFrom } from '@owl-loom/testing/random';
import { type Circle, inpaintCircles, inpaintSourceRect } from './harmonic-fill';
import { findResidualStars } from './residual-stars';

const [width, height] = [420, 320];
const whole = { x: 0, y: 0, width, height };
const NOISE = 0.0004;

/** Gas that turns over some fifty pixels, on a slope. */
const gasAt = (x: number, y: number): number =>
  0.03 + 0.00002 * x + 0.006 * (1 + Math.sin(x / 41 + Math.sin(y / 31)) * Math.cos(y / 53));

function skies(seed: number, fwhm: readonly [number, number], k = 0.3) {
  const random = randomFrom(seed);
  const clean = Float32Array.from({ length: width * height }, (_, i) => gasAt(i % width, Math.floor(i / width)));
  const line = clean.map((v) => v + NOISE * random.normal());
  const broad = Float32Array.from({ length: width * height }, () => 0.05 + 0.0006 * random.normal());
  const truth = Array.from({ length: 60 }, (_, s) => ({
    x: width * random.next(),
    y: height * random.next(),
    flux: s < 4 ? 60 : Math.min(8, 0.08 * (1 - random.next()) ** -0.9),
  }));
  const put = (plane: Float32Array, { x: x0, y: y0, flux }: (typeof truth)[number], share: number, w: number) => {
    const a2 = (w / 2) ** 2 / (2 ** (1 / 3) - 1);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        plane[y * width + x] +=
          ((2 * share * flux) / (Math.PI * a2)) * (1 + ((x - x0) ** 2 + (y - y0) ** 2) / a2) ** -3;
  };
  for (const star of truth) {
    put(line, star, k, fwhm[0]);
    put(broad, star, 1, fwhm[1]);
  }
  // A full well, which the line filter does not reach: the broad star is cut off, and too little is taken away.
  return { clean, line, broad: broad.map((v) => Math.min(v, 1)), truth, k };
}

const filled = (plane: Float32Array, circles: readonly Circle[], window = whole, level = 0): Float32Array => {
  const need = inpaintSourceRect(window, circles, level);
  const cut = (r: typeof whole) =>
    Float32Array.from({ length: r.width * r.height }, (_, i) => {
      const [x, y] = [r.x + (i % r.width), r.y + Math.floor(i / r.width)];
      return x < 0 || y < 0 || x >= width || y >= height ? Number.NaN : plane[y * width + x];
    });
  const out = cut(window);
  inpaintCircles(cut(need), need, out, window, circles, level);
  return out;
};

describe('what is left of stars', () => {
  it.each([
    ['alike seeing, some cut off', [3, 3] as const, 1],
    ['unlike seeing', [2.6, 3.4] as const, 2],
    ['a wider line image', [4, 2.8] as const, 3],
  ])('is found and mended: %s', (_, fwhm, seed) => {
    const { clean, line, broad, k, truth } = skies(seed, fwhm);
    const circles = findResidualStars(
      { line, broad, broadStars: detectStarField(broad, width, height), broadSky: 0.05, width, height },
      k,
    );
    const left = line.map((v, i) => v - k * (broad[i] - 0.05));
    const mended = filled(left, circles);
    const wrong = (plane: Float32Array) =>
      plane.filter((v, i) => Math.abs(v - clean[i]) > 6 * Math.hypot(NOISE, 0.0006 * k)).length;
    expect(circles.length).toBeGreaterThan(3);
    expect(circles.length).toBeLessThanOrEqual(truth.length);
    expect(wrong(left)).toBeGreaterThan(60);
    expect(wrong(mended)).toBeLessThan(0.04 * wrong(left));
    // The gas under the circles is the gas around them, and the grain goes on.
    const inside = (i: number) =>
      circles.some(([x, y, r]) => ((i % width) - x) ** 2 + (Math.floor(i / width) - y) ** 2 < r * r);
    const off = [...mended.keys()].filter(inside).map((i) => mended[i] - clean[i]);
    expect(Math.abs(medianOfList(off))).toBeLessThan(0.5 * NOISE);
    const scatter = 1.4826 * medianOfList(off.map(Math.abs));
    expect(scatter / Math.hypot(NOISE, 0.0006 * k)).toBeGreaterThan(0.7);
    expect(scatter / Math.hypot(NOISE, 0.0006 * k)).toBeLessThan(1.6);
  });

  it('is found and mended at the frame and beside a hole in the data', () => {
    const { clean, line, broad, k } = skies(5, [3, 3]);
    const at = [
      { x: 1.3, y: 60 },
      { x: 200.6, y: 0 },
      { x: width - 2.2, y: height - 3 },
      { x: 300, y: 198 },
    ];
    for (const { x: x0, y: y0 } of at)
      for (let i = 0; i < broad.length; i++) {
        const light = 0.5 * Math.exp(-(((i % width) - x0) ** 2 + (Math.floor(i / width) - y0) ** 2) / 3.2);
        broad[i] += light;
        line[i] += 1.6 * k * light;
      }
    for (const plane of [line, broad]) plane.fill(Number.NaN, 201 * width, 204 * width);
    const broadStars = detectStarField(broad, width, height);
    for (const { x, y } of at) expect(broadStars.stars.some((s) => Math.hypot(s.x - x, s.y - y) < 2)).toBe(false);
    const circles = findResidualStars({ line, broad, broadStars, broadSky: 0.05, width, height }, k);
    const left = line.map((v, i) => v - k * (broad[i] - 0.05));
    const mended = filled(left, circles);
    for (const { x, y } of at) {
      const i = Math.round(y) * width + Math.round(x);
      expect(Math.abs(left[i] - clean[i])).toBeGreaterThan(0.05);
      expect(Math.abs(mended[i] - clean[i])).toBeLessThan(6 * NOISE);
    }
  });

  it('leaves alone what is clean already, and gas', () => {
    const { line, broad, k } = skies(4, [3, 3]);
    const random = randomFrom(9);
    const clean = Float32Array.from({ length: width * height }, (_, i) => gasAt(i % width, Math.floor(i / width)));
    const same = clean.map((v, i) => v + k * (broad[i] - 0.05) + NOISE * random.normal());
    const broadStars = detectStarField(broad, width, height);
    expect(findResidualStars({ line: same, broad, broadStars, broadSky: 0.05, width, height }, k)).toEqual([]);
    expect(findResidualStars({ line, broad, broadStars, broadSky: 0.05, width, height }, k).length).toBeGreaterThan(0);
  });
});

describe('filling circles', () => {
  const circles: Circle[] = [
    [100, 100, 12],
    [112, 104, 9],
    [300.5, 40.2, 20],
    [3, 200, 8],
    [200, 250, 2.5],
  ];

  it('follows a slope exactly and leaves all else', () => {
    const slope = Float32Array.from(
      { length: width * height },
      (_, i) => 2 + 0.01 * (i % width) - 0.02 * Math.floor(i / width),
    );
    const spoiled = slope.slice();
    for (const [x, y, r] of circles)
      for (let i = 0; i < spoiled.length; i++)
        if (((i % width) - x) ** 2 + (Math.floor(i / width) - y) ** 2 <= r * r) spoiled[i] = 9;
    const mended = filled(spoiled, circles);
    mended.forEach((v, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const rim = circles.find(([cx, cy, r]) => Math.hypot(x - cx, y - cy) <= r);
      if (!rim) expect(v).toBe(slope[i]);
      // Sectors are medians of whole pixels: within part of a pixel's slope, and of half the picture's edge where that cuts a circle.
      else expect(Math.abs(v - slope[i])).toBeLessThan(rim[0] < 10 ? 0.2 : 0.04);
    });
  });

  it('gives for any window what it gives for the whole, on every level', () => {
    const random = randomFrom(3);
    const plane = Float32Array.from({ length: width * height }, () => random.normal());
    plane.fill(Number.NaN, 40 * width + 290, 40 * width + 296);
    fc.assert(
      fc.property(
        fc.record({
          x: fc.nat(width - 40),
          y: fc.nat(height - 40),
          w: fc.integer({ min: 1, max: 90 }),
          h: fc.integer({ min: 1, max: 90 }),
          level: fc.nat(3),
        }),
        ({ x, y, w, h, level }) => {
          const window = { x, y, width: Math.min(w, width - x), height: Math.min(h, height - y) };
          const all = filled(plane, circles, whole, level);
          const part = filled(plane, circles, window, level);
          for (let j = 0; j < window.height; j++)
            for (let i = 0; i < window.width; i++)
              expect(part[j * window.width + i]).toBe(all[(y + j) * width + x + i]);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('keeps what has no data, and does nothing where nothing is around', () => {
    const empty = new Float32Array(width * height).fill(Number.NaN);
    empty[100 * width + 100] = 5;
    const mended = filled(empty, circles);
    expect(mended[100 * width + 100]).toBe(5);
    expect(mended.filter((v) => v === v)).toHaveLength(1);
  });
});
